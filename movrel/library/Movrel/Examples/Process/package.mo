within Movrel.Examples;
package Process "Process: tanks, pumps, valves and reactors"
end Process;
