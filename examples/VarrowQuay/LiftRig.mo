within VarrowQuay;
model LiftRig "Leaf, power pack, controller and operator of the lift, coupled every 10 ms"
  LiftLeaf leaf "From the builder of the bridge"
    annotation (Placement(transformation(extent={{90,-30},{150,30}})));
  LiftPowerPack pack "From the maker of the hydraulics"
    annotation (Placement(transformation(extent={{-30,-30},{30,30}})));
  LiftController controller "From the automation company"
    annotation (Placement(transformation(extent={{-150,-30},{-90,30}})));
  Movrel.Signals.PointTable hand(table=[0, 0.1; 2, 0.1; 10, 0.6; 20, 0.6; 26, 0.3; 30, 0.3]) "What the operator does"
    annotation (Placement(transformation(extent={{-260,-6},{-220,34}})));
equation
  connect(hand.y, controller.w);
  connect(controller.u, pack.u);
  connect(pack.f, leaf.f);
  connect(leaf.v, pack.v);
  connect(leaf.s, controller.s);
  annotation (
    experiment(StopTime=30, Interval=0.05, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-260,110},{150,98}}, textString="Each part is a unit with its own solver; signals are exchanged every 10 ms", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>Three companies and an operator on one page. Between communication points each unit computes for itself with the inputs that it was given; the same wires drawn as one model give the solution without that error.</p>
<p>By hand: at rest the rod carries the weight, <i>f = 50 kN</i>, and the controller leaves <i>s = w</i> but for the lap of the valve, <i>0.03/k</i>.</p></html>"),
    __Movrel(claims={"mean(pack.f, from=18 s, to=20 s) ≈ leaf.weight ± 1 %", "abs(mean(leaf.s, from=18 s, to=20 s) - 0.6 m) < 5 mm", "max(pack.p) < 165 bar"}, scenarios={Scenario(name="half the gain", colour=1, changes={{"controller.k", "6"}}), Scenario(name="light leaf", colour=2, changes={{"leaf.m", "8000"}})}, recorder={{"hand.y", "leaf.s"}, {"pack.f"}, {"controller.u"}}, rig=Rig(step=0.01, inputs="extrapolated")));
end LiftRig;
