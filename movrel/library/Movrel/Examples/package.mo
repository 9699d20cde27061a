within Movrel;
package Examples "Examples: one small model for each group of parts"
end Examples;
