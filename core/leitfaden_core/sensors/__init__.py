"""Sensors: a module per family. A sensor kind turns what is true at its place into a quantity at its pins."""
