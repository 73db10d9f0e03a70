"""Schools, people and what they may do."""
