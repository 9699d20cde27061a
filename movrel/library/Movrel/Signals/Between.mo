within Movrel.Signals;
type Between = enumeration(
  straight "Straight lines between the points",
  hold "Each value is held until the next point",
  smooth "A smooth curve through the points, without overshoot") "What a table does between its points";
