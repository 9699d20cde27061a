within Movrel;
package Rotational "Rotation: inertias, springs, friction and torques about one axis"
end Rotational;
