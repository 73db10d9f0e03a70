"""Running engines: what is kept of a bench, who has it in hand, and the line to the people who watch it."""
