within Movrel.Examples.Signals;
model Sequence "A filling and draining sequence as a state machine"
  Clock tick = Clock(0.1);
  Movrel.Signals.State idle
    annotation (Placement(transformation(extent={{-22,-22},{22,22}})));
  Movrel.Signals.State filling
    annotation (Placement(transformation(extent={{138,-22},{182,22}})));
  Movrel.Signals.State draining
    annotation (Placement(transformation(extent={{138,-142},{182,-98}})));
  Movrel.Signals.Switch stream_
    annotation (Placement(transformation(extent={{340,-44},{380,-4}})));
  Movrel.Signals.Constant in_(value=0.5)
    annotation (Placement(transformation(extent={{252,20},{292,60}})));
  Movrel.Signals.Constant out_(value=-0.25)
    annotation (Placement(transformation(extent={{252,-140},{292,-100}})));
  Movrel.Signals.Integrator level
    annotation (Placement(transformation(extent={{444,-44},{484,-4}})));
equation
  connect(in_.y, stream_.u_1);
  connect(out_.y, stream_.u_2);
  connect(stream_.y, level.u);
  initialState(idle);
  transition(idle, filling, time >= 0.95, immediate=false);
  transition(filling, draining, level.y >= 2, immediate=false);
  transition(draining, filling, level.y <= 0.5, immediate=false);
  stream_.condition = activeState(filling);
  annotation (
    experiment(StopTime=20, Interval=0.02),
    __Movrel(recorder={{"level.y"}}));
end Sequence;
