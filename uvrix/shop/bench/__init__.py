"""What happens at the bench: memory runs, marks."""
