"""Rework: heat curves against an alloy's window, firmware images compared."""
