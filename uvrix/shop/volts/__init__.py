"""Volts: the powered card, where its start-up chain breaks, how far it comes."""
