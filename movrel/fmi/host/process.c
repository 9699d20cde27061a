/* The process in which foreign code runs: it obeys commands from a pipe and shares its numbers by memory.
 *
 * host NUMBERS LIMIT    the file that is shared, and the bytes of memory that it may use
 *
 * Commands are one byte, or J with a length and what 'host_obey' reads. Answers are k (done), or j and e (refused) with a
 * length and a JSON text. The unit's own output goes nowhere. */
#include <errno.h>
#include <fcntl.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>

#include "commands.h"

static int commands, answers;

static void whole(void *to, size_t count) {
  unsigned char *at = to;
  while (count) {
    ssize_t n = read(commands, at, count);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) _exit(0);
    at += n, count -= (size_t)n;
  }
}

static void write_all(const void *from, size_t count) {
  const unsigned char *at = from;
  while (count) {
    ssize_t n = write(answers, at, count);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) _exit(0);
    at += n, count -= (size_t)n;
  }
}

static void answer(const Host *h, char mark) {
  size_t length;
  const char *text = host_answer(h, &length);
  unsigned char head[5];
  uint32_t size = (uint32_t)length;
  head[0] = (unsigned char)mark;
  memcpy(head + 1, &size, 4);
  write_all(head, 5);
  write_all(text, length);
}

static void limit(int what, unsigned long long bytes) {
  struct rlimit most;
  most.rlim_cur = most.rlim_max = (rlim_t)bytes == bytes ? (rlim_t)bytes : RLIM_INFINITY;
  setrlimit(what, &most);
}

int main(int argc, char **argv) {
  struct stat about;
  unsigned char *command = NULL, code;
  int file, nowhere, stream;
  void *numbers;
  Host *h;
  if (argc != 3) return 2;
  limit(RLIMIT_AS, strtoull(argv[2], NULL, 10));
  limit(RLIMIT_CORE, 0);
  limit(RLIMIT_FSIZE, 100000000);
  commands = dup(0), answers = dup(1);
  nowhere = open("/dev/null", O_RDWR);
  for (stream = 0; stream < 3; ++stream) dup2(nowhere, stream);
  file = open(argv[1], O_RDWR);
  if (file < 0 || fstat(file, &about)) return 3;
  numbers = mmap(NULL, (size_t)about.st_size, PROT_READ | PROT_WRITE, MAP_SHARED, file, 0);
  if (numbers == MAP_FAILED || !(h = host_new(numbers))) return 3;
  for (;;) {
    whole(&code, 1);
    if (code == 'J') {
      uint32_t size;
      unsigned char *room;
      int status;
      whole(&size, 4);
      room = realloc(command, size ? size : 1);
      if (!room) return 3;
      command = room;
      whole(command, size);
      status = host_obey(h, command, size);
      answer(h, status ? 'e' : 'j');
    } else if (host_do(h, code) == 0) write_all("k", 1);
    else answer(h, 'e');
  }
}
