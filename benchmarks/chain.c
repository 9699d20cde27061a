/* The thermal chain of smooth.py, right-hand side by hand, with CVODE (BDF, banded or dense Jacobian).
   Usage: chain N TOLERANCE REPEATS; prints the median seconds and the temperatures at the end. */
#include <math.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <time.h>

typedef int32_t sunindextype; /* as the wheel was built */
typedef void *N_Vector, *SUNContext, *SUNMatrix, *SUNLinearSolver;
int SUNContext_Create(int comm, SUNContext *context);
N_Vector N_VNew_Serial(sunindextype n, SUNContext context);
double *N_VGetArrayPointer(N_Vector v);
void *CVodeCreate(int lmm, SUNContext context);
int CVodeInit(void *mem, int (*f)(double, N_Vector, N_Vector, void *), double t0, N_Vector y);
int CVodeReInit(void *mem, double t0, N_Vector y);
int CVodeSStolerances(void *mem, double rtol, double atol);
int CVodeSetMaxNumSteps(void *mem, long steps);
int CVodeSetLinearSolver(void *mem, SUNLinearSolver solver, SUNMatrix matrix);
int CVode(void *mem, double tout, N_Vector y, double *t, int task);
SUNMatrix SUNBandMatrix(sunindextype n, sunindextype upper, sunindextype lower, SUNContext context);
SUNLinearSolver SUNLinSol_Band(N_Vector y, SUNMatrix matrix, SUNContext context);

static long N;

static int rate(double t, N_Vector yv, N_Vector fv, void *data) {
    const double *T = N_VGetArrayPointer(yv);
    double *f = N_VGetArrayPointer(fv);
    const double C = 10.0, G = 2.0;
    double dT = 350.0 + 10.0 * sin(t) - T[0];
    double in = G * dT * (1 + 0.001 * dT * dT);
    for (long i = 0; i < N; i++) {
        dT = T[i] - (i + 1 < N ? T[i + 1] : 280.0);
        double out = G * dT * (1 + 0.001 * dT * dT);
        f[i] = (in - out) / C;
        in = out;
    }
    (void)data;
    return 0;
}

static int by_size(const void *a, const void *b) {
    double d = *(const double *)a - *(const double *)b;
    return (d > 0) - (d < 0);
}

int main(int argc, char **argv) {
    if (argc < 4) return 2;
    N = atol(argv[1]);
    double tolerance = atof(argv[2]);
    int repeats = atoi(argv[3]);
    SUNContext context;
    SUNContext_Create(0, &context);
    N_Vector y = N_VNew_Serial(N, context);
    double *T = N_VGetArrayPointer(y), *seconds = malloc(repeats * sizeof(double));
    for (long i = 0; i < N; i++) T[i] = 300.0;
    void *mem = CVodeCreate(2, context);
    CVodeInit(mem, rate, 0.0, y);
    CVodeSStolerances(mem, tolerance, tolerance);
    CVodeSetMaxNumSteps(mem, 1000000);
    SUNMatrix matrix = SUNBandMatrix(N, 1, 1, context);
    CVodeSetLinearSolver(mem, SUNLinSol_Band(y, matrix, context), matrix);
    for (int k = 0; k < repeats; k++) {
        struct timespec a, b;
        clock_gettime(CLOCK_MONOTONIC, &a);
        for (long i = 0; i < N; i++) T[i] = 300.0;
        CVodeReInit(mem, 0.0, y);
        for (int p = 1; p <= 500; p++) {
            double t;
            if (CVode(mem, 20.0 * p / 500, y, &t, 1) < 0) return 3;
        }
        clock_gettime(CLOCK_MONOTONIC, &b);
        seconds[k] = (b.tv_sec - a.tv_sec) + 1e-9 * (b.tv_nsec - a.tv_nsec);
    }
    qsort(seconds, repeats, sizeof(double), by_size);
    printf("%.9g\n", seconds[repeats / 2]);
    for (long i = 0; i < N; i++) printf("%.17g\n", T[i]);
    return 0;
}
