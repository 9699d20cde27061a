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
    __Movrel(claims={"mean(pack.f, from=18 s, to=20 s) ≈ leaf.weight ± 1 %", "abs(mean(leaf.s, from=18 s, to=20 s) - 0.6 m) < 5 mm", "max(pack.p) < 165 bar"}, scenarios={Scenario(name="half the gain", colour=1, changes={{"controller.k", "6"}}), Scenario(name="light leaf", colour=2, changes={{"leaf.m", "8000"}})}, recorder={{"hand.y", "leaf.s"}, {"pack.f"}, {"controller.u"}}, rig=Rig(step=0.01, inputs="extrapolated"), board={Tile(kind="strip", at={0, 0, 7, 5}, names={"hand.y", "leaf.s"}, title="Set point and position"),
      Tile(kind="instrument", at={7, 0, 3, 5}, names={"pack.p"}, title="Accumulator", low=0, high=200, good={90, 170}),
      Tile(kind="bar", at={10, 0, 2, 5}, names={"leaf.s"}, title="Leaf", low=0, high=0.8),
      Tile(kind="number", at={0, 5, 2, 2}, names={"pack.f"}, title="Force on the rod"),
      Tile(kind="lamp", at={2, 5, 2, 2}, names={"controller.u"}, title="Valve opens", low=0.05),
      Tile(kind="table", at={4, 5, 4, 3}, names={"leaf.v", "controller.u", "pack.accumulator.V_free", "pack.outlet.p"}, title="Values"),
      Tile(kind="text", at={8, 5, 4, 2}, text="Lift of Varrow Quay: leaf, power pack, controller.")}));
end LiftRig;
