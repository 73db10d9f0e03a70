"""What can be asked of the model without a lesson: names, the bench, value sheets."""
