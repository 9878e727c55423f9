"""What to try next on a job: attempts and their outcomes, and the shop's own times, risks, shares and school."""
