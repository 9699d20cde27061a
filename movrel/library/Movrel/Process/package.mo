within Movrel;
package Process "Process engineering: liquids in basins, pipes and orifices"
end Process;
