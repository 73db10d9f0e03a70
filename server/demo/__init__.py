"""The sample data of the Hollerbach school."""
