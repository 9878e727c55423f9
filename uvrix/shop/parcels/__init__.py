"""Parcels that were announced: expected, late, arrived; what the courier says of them."""
