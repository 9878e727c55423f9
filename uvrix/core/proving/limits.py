"""Every threshold of the proof, with its unit and why it stands where it stands."""

from __future__ import annotations

# What a temperature on a bench may be at all, in degrees Celsius: outside it the sensor lies.
COLDEST_C, HOTTEST_C = 5.0, 125.0
# A sensor that moves by less than this over this many samples stands still.
STILL_C, STILL_SAMPLES = 0.5, 60
# A clock moves where its highest under load is this many times its lowest in the log.
CLOCK_MOVES_TIMES = 1.2
# A clock sags with heat where it falls below this share of what it was, under load, while it warmed by this many °C.
SAG_SHARE, SAG_WARMED_C, SAG_SAMPLES = 0.9, 5.0, 30
# Twice the slot's 75 W while the clock is held at its lowest is no draw: a sense path fakes it (docs/trade §4.10).
HELD_WATTS = 150.0
# Memory that the test computer sees may differ by this share from what the model has: firmware keeps some.
MEMORY_SHARE = 0.02
# This many cards of the model say what a usual score is; the bound holds this share of next good cards.
FEWEST_SCORES, SCORE_COVERS = 3, 0.95
# Scores are never more alike than this share: runs of one card differ as much.
LEAST_SCORE_SPREAD = 0.005
# Temperatures under load of one model's cards are never more alike than this many °C: the room's own differs as much.
LEAST_CELSIUS_SPREAD = 3.0
# Clocks under load are never more alike than this share: they step down with a few degrees more.
LEAST_CLOCK_SPREAD = 0.02

# A temperature is steady when at most this many degrees Celsius are still to come …
REST_C = 1.5
# … with this chance.
STEADY_SURE = 0.95
# Under load are samples whose power stands this share of the way from the log's least to its most.
LOADED_SHARE = 0.6
# A log whose power never rises by this factor from its least shows no load by itself.
LOAD_RISES_TIMES = 2.0
# A clock that reaches this share of the log's highest counts as working.
BUSY_CLOCK_SHARE = 0.7
# Less than this under load, in minutes, is idle; a dip shorter than this many seconds does not end a stretch of load.
IDLE_MINUTES, DIP_S = 0.5, 10.0
# Sensors show whole degrees at best: noise is never taken as less than this, in degrees Celsius.
LEAST_NOISE_C = 0.15
# The last share of a log that its figures are compared by.
COMPARED_SHARE = 0.1
