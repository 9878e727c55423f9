"""Every threshold of Rework that no data sheet gives, with its unit and why; a shop sets most of them itself."""

from __future__ import annotations

# Hot air warms what is nearer than this, in millimetres from edge to edge …
NEAR_MM = 12.0
# … and melts joints nearer than this unless they are shielded.
SHIELD_MM = 6.0
# What stands this near to a power plug, in millimetres, runs hot.
HOT_PLACE_MM = 15.0
# Heat cycles after which pads let go of the board, and after which a chip is no longer trusted.
SITE_CYCLES, CHIP_CYCLES = 5, 4
# Chips that lay in the open for more hours than this are baked first: moisture bursts a package.
OPEN_HOURS = 24.0

# Torn signal pads that are repaired, and up to which it is tried: each signal has one ball.
SIGNALS_FIXABLE, SIGNALS_MARGINAL = 2, 5
# Shares of supply and ground pads that may be gone: they are joined in many places.
PADS_SHARE_FIXABLE, PADS_SHARE_MARGINAL = 0.1, 0.25

# Seconds above an alloy's reference temperature: fewer leave it unwetted, more grow brittle layers.
LEAST_ABOVE_S, MOST_ABOVE_S = 30.0, 90.0
# Degrees Celsius a second on the way up: faster, packages crack and boards warp.
MOST_RAMP_C_PER_S = 3.0

# More than this share of the bytes differing is no edition of the same firmware image.
UNLIKE_SHARE = 0.1
# Decay is rare: more single bits than this share of the bytes are no longer few.
DECAY_SHARE = 0.05
# A run is text from this many bytes on, where no more of it than this share is no sign; so few bytes are a setting.
LEAST_TEXT_BYTES, NO_SIGN_SHARE, SETTING_BYTES = 4, 0.34, 8
