"""The record of a job: its timeline, notes, whose move it is, and the card that resumes it."""
