"""Descriptions of the units that are written by hand in C."""

SPRING = """<?xml version="1.0" encoding="UTF-8"?>
<fmiModelDescription fmiVersion="2.0" modelName="Spring" guid="{hand-written}" numberOfEventIndicators="1">
  <ModelExchange modelIdentifier="unit2"/>
  <CoSimulation modelIdentifier="unit2" canHandleVariableCommunicationStepSize="true"/>
  <UnitDefinitions><Unit name="N/kg"><BaseUnit m="1" s="-2"/></Unit><Unit name="m"><BaseUnit m="1"/>
    <DisplayUnit name="mm" factor="1000"/></Unit></UnitDefinitions>
  <TypeDefinitions><SimpleType name="Length"><Real quantity="Length" unit="m" displayUnit="mm"/></SimpleType></TypeDefinitions>
  <DefaultExperiment startTime="0" stopTime="4" tolerance="1e-8" stepSize="0.05"/>
  <ModelVariables>
    <ScalarVariable name="x" valueReference="0" causality="output" initial="exact"><Real declaredType="Length" start="1"/></ScalarVariable>
    <ScalarVariable name="v" valueReference="1" initial="exact"><Real start="0"/></ScalarVariable>
    <ScalarVariable name="der(x)" valueReference="2"><Real derivative="1"/></ScalarVariable>
    <ScalarVariable name="der(v)" valueReference="3"><Real derivative="2"/></ScalarVariable>
    <ScalarVariable name="force" valueReference="4" causality="input"><Real unit="N/kg" start="0"/></ScalarVariable>
    <ScalarVariable name="stiffness" valueReference="5" causality="parameter" variability="fixed"><Real start="4" min="0"/></ScalarVariable>
    <ScalarVariable name="wall" valueReference="6" causality="parameter" variability="fixed"><Real declaredType="Length" start="-0.5"/></ScalarVariable>
    <ScalarVariable name="strikes" valueReference="0" variability="discrete" initial="exact"><Integer start="0"/></ScalarVariable>
    <ScalarVariable name="touching" valueReference="0" variability="discrete"><Boolean/></ScalarVariable>
    <ScalarVariable name="maker" valueReference="0" variability="constant"><String start="hand-written"/></ScalarVariable>
  </ModelVariables>
  <ModelStructure><Outputs><Unknown index="1"/></Outputs>
    <Derivatives><Unknown index="3" dependencies="2"/><Unknown index="4" dependencies="1 5" dependenciesKind="fixed constant"/></Derivatives>
    <InitialUnknowns><Unknown index="3"/><Unknown index="4"/></InitialUnknowns></ModelStructure>
</fmiModelDescription>
"""

TYPES = (
    "Float64",
    "Float32",
    "Int8",
    "UInt8",
    "Int16",
    "UInt16",
    "Int32",
    "UInt32",
    "Int64",
    "UInt64",
    "Boolean",
)
CHAIN = (
    """<?xml version="1.0" encoding="UTF-8"?>
<fmiModelDescription fmiVersion="3.0" modelName="Chain" instantiationToken="{three}">
  <ModelExchange modelIdentifier="unit3"/><CoSimulation modelIdentifier="unit3"/>
  <DefaultExperiment startTime="0" stopTime="1" tolerance="1e-7"/>
  <ModelVariables>
    <Float64 name="time" valueReference="0" causality="independent" variability="continuous"/>
    <Float64 name="x" valueReference="1" causality="output" initial="exact" start="1 0"><Dimension start="2"/></Float64>
    <Float64 name="der(x)" valueReference="2" derivative="1"><Dimension start="2"/></Float64>
    <Float64 name="rate" valueReference="3" causality="parameter" variability="fixed" start="1000"/>
    <Float64 name="gain" valueReference="4" causality="parameter" variability="fixed" start="1 2"><Dimension start="2"/><Alias name="factors"/></Float64>
"""
    + "".join(
        f'    <{t} name="u_{t}" valueReference="{10 + k}" causality="input" start="{"false" if t == "Boolean" else 0}"/>\n'
        f'    <{t} name="y_{t}" valueReference="{30 + k}" causality="output"/>\n'
        for k, t in enumerate(TYPES)
    )
    + """    <String name="plate" valueReference="50" causality="parameter" variability="fixed"><Start value="none"/></String>
    <String name="report" valueReference="51" causality="output" variability="discrete"/>
    <Binary name="camera" valueReference="52" causality="input" variability="discrete"><Start value="00ff"/></Binary>
    <Clock name="tick" valueReference="53" causality="input" variability="discrete" intervalVariability="triggered"/>
  </ModelVariables>
  <ModelStructure><Output valueReference="1"/><ContinuousStateDerivative valueReference="2"/></ModelStructure>
</fmiModelDescription>
"""
)
