"""Practice: virtual cards with hidden faults, worked on as jobs that touch nothing else of the shop."""
