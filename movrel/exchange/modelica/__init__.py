"""Models as Modelica text for others, and text of others on its way in."""
