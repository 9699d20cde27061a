within Movrel.Signals;
type Form = enumeration(
  ideal "K (1 + 1/(T_i s) + T_d s)",
  parallel "K_p + K_i/s + K_d s") "How the parts of a PID controller are given";
