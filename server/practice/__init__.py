"""What learners do: assignments, attempts, the journal of their answers."""
