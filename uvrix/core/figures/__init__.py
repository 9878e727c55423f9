"""Figures of the shop: what fails how often, what holds, what it takes, with the doubt of small numbers."""
