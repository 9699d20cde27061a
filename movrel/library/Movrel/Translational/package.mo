within Movrel;
package Translational "Translation: masses, springs, friction and forces along one axis"
end Translational;
