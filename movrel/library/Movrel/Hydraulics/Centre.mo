within Movrel.Hydraulics;
type Centre = enumeration(
  closed "All ports closed",
  open "All ports joined",
  tandem "P joined with T, A and B closed",
  float "A and B joined with T, P closed") "What a valve joins in its middle position";
