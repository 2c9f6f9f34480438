"""The body: measures, people, sizes, growth, estimates and the figure."""
