"""The parts of the Grade station: the nest on the table, the sizes and the rules in the docket, two people side by side."""
