"""The stations of the rail, each a docket and what it lays on the table."""
