within Movrel.Signals;
block State "State of a state machine: lights while it is active"

  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,60},{100,-60}}, lineColor={40,44,60}, fillColor=DynamicSelect({255,255,255}, if active then {170,205,210} else {255,255,255}), fillPattern=FillPattern.Solid, lineThickness=0.5, radius=40),
      Text(extent={{-90,30},{90,-30}}, textString="%name")}),
    Documentation(info="<html><p>States are joined in the text: <i>initialState(a)</i> says which comes first, <i>transition(a, b, condition)</i> when one leads to another; the sheet draws the arrows with their conditions. <i>activeState(a)</i> says whether a state is active, so that outputs can depend on it. Variables and equations inside a state count while it is active: declare a block of your own for those</p></html>"),
    __Movrel(synonyms={"state machine", "sequence", "step chain", "mode", "automaton"}, source="Specification of the language, chapter 17; symbol as in IEC 60848"));
end State;
