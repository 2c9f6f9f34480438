"""The pages of the Measure station: the list, the guided round, dates, growth, sizes."""
