within VarrowQuay;
model WinchDrive "Mooring winch: a motor from its datasheet, a shifting gearbox, a drum and a ship that is hauled in"
  Movrel.Electrical.VoltageSource battery(V=48)
    annotation (Placement(transformation(extent={{-120,-96},{-80,-56}}, rotation=-90)));
  Movrel.Electrical.PermanentMagnetMotor motor(data=Movrel.Electrical.MotorData.stall_torque, V_n=48, tau_stall=12.5, w_0=420, I_0=1.2, L_a=0.3e-3, J=4e-3) "Datasheet: stall torque 12.5 N.m, 4010 rpm without load"
    annotation (Placement(transformation(extent={{-20,-76},{20,-36}})));
  Movrel.Rotational.Tachometer speed
    annotation (Placement(transformation(extent={{56,4},{96,44}})));
  ShiftController controller "Shift schedule"
    annotation (Placement(transformation(extent={{140,36},{180,76}})));
  FourSpeedGearbox gearbox "Swap it for one speed to compare"
    annotation (Placement(transformation(extent={{132,-84},{188,-28}})));
  Movrel.Rotational.GearWithLosses worm(i=20, eta=0.9, eta_back=0.8) "Final drive"
    annotation (Placement(transformation(extent={{236,-76},{276,-36}})));
  Movrel.Rotational.RackPinion drum(r=0.1) "Rope drum"
    annotation (Placement(transformation(extent={{316,-76},{356,-36}})));
  Movrel.Translational.Mass ship(m=900) "Tender with its added water"
    annotation (Placement(transformation(extent={{396,-76},{436,-36}})));
  Movrel.Translational.RoadLoad water(m=900, c_r=0, A=1.1, c_w=0.9, rho=1000) "Drag of the water"
    annotation (Placement(transformation(extent={{476,-76},{516,-36}})));
  Movrel.Signals.Constant level(value=0) "No slope on water"
    annotation (Placement(transformation(extent={{476,4},{516,44}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-56,-168},{-16,-128}})));
equation
  connect(battery.a, motor.a);
  connect(battery.b, motor.b);
  connect(battery.b, ground.a);
  connect(motor.shaft, gearbox.a);
  connect(motor.shaft, speed.a);
  connect(speed.w, controller.w);
  connect(controller.low_1, gearbox.low_1);
  connect(controller.high_1, gearbox.high_1);
  connect(controller.low_2, gearbox.low_2);
  connect(controller.high_2, gearbox.high_2);
  connect(gearbox.b, worm.a);
  connect(worm.b, drum.a);
  connect(drum.b, ship.a);
  connect(ship.b, water.a);
  connect(level.y, water.grade);
  annotation (
    experiment(StopTime=30, Interval=0.02, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-139.2,135.8},{536,123.8}}, textString="Ratios 6.6, 3, 2.2, 1. In fourth gear it settles where k((48 - k w)/R - I_0) = 495 v^2 r/(20 0.9), at 1.31 m/s", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The winch starts in first gear and shifts up as the motor runs up.</p><p>By hand, from the datasheet: <i>k = (V - R I_0)/w_0 = 0.1131 N.m/A</i>, <i>R = 0.4295 Ω</i>. In fourth gear <i>v = r w/20</i>, and the speed settles where the motor's torque <i>k ((48 - k w)/R - I_0)</i> equals the drag <i>½·1000·0.9·1.1·v²·r/(20·0.9)</i>: at 1.31 m/s.</p></html>"),
    __Movrel(claims={"final(ship.v) ≈ 1.31 m/s ± 2 %", "max(controller.gear) == 4"}, scenarios={Scenario(name="one speed", colour=1, changes={{"gearbox", "redeclare VarrowQuay.OneSpeedGearbox"}}),
      Scenario(name="tired battery", colour=4, changes={{"battery.V", "40"}})}, recorder={{"ship.v"}, {"motor.w"}, {"controller.gear"}}));
end WinchDrive;
