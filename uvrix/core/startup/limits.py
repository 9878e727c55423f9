"""Every threshold of the powered card, each with its unit and why it stands where it stands."""

from __future__ import annotations

# A rail counts as present within this share of its volts where no start-up map says its band (docs/trade §4.1).
RAIL_SHARE = 0.1
# What binary fractions may be off by where a reading lies right at its band's end.
EDGE = 1e-9
# The chance that a reading is wrong, where the technician does not say another.
DOUBT = 0.005
# While one dead node explains all readings, single faults outweigh this many times the usual doubt.
EXPLAINING_SHARE = 10.0

# From this share of its limit on, a supply stands at it: what the card would draw is not known then.
AT_LIMIT_SHARE = 0.97
# Under this share of the model's idle current the core was never released …
NOTHING_SHARE = 0.25
# … and over this multiple of it the current is suspicious.
SUSPICIOUS_TIMES = 1.5
# The current limit to begin with, in amperes: where nobody knows the model's idle figure, and at least.
UNKNOWN_LIMIT_A, LEAST_LIMIT_A = 0.5, 0.3
# The end of a start's log that counts as settled, and how long a step must last, in seconds.
SETTLED_S, STEP_HOLD_S = 0.5, 0.08
# A rise by this share of the peak is a step of the start.
STEP_SHARE = 0.06

# Phases share a controller's clock to within this share, and warm up alike to within this many degrees Celsius.
PHASE_FREQUENCY_SHARE, PHASE_WARMER_C = 0.05, 5.0
# This many phases read tell which of them is warmer than its equals.
LEAST_PHASES = 3
# Both ends of a sense path agree to within the larger of this share and this many volts: it carries hardly any current.
SENSE_PATH_SHARE, SENSE_PATH_V = 0.05, 0.1
# What is left of a part's blame once it was replaced without effect: the new one may be bad, or badly soldered.
REFUTED_SHARE = 0.05
