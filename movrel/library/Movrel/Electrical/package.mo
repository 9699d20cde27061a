within Movrel;
package Electrical "Electrical: networks, semiconductors, machines and converters"
end Electrical;
