"""What the customer is asked: options with price, chance and consequence, and the answer."""
