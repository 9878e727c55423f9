"""Who is on which job, and what others entered since a page last asked."""
