"""Return: what blocks the parcel, the report, no fix, warranty and comebacks."""
