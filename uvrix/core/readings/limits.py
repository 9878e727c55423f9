"""Every threshold of the cold bench, each with its unit and why it stands where it stands.

Two limits that happen to be the same number are two limits: a share of what good cards read is no voltage.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

from uvrix.core.readings.notation import Quantity

# What a bench meter with two leads tells apart, in the quantity's own unit: contact and lead vary by as much.
RESOLVES: Mapping[Quantity, float] = {
    "resistance": 0.05,
    "diode": 0.008,
    "voltage": 0.01,
    "current": 0.01,
    "frequency": 1.0,
    "temperature": 1.0,
}

# Shorts. A short reads under this share of what good cards read, since their readings lie decades apart …
SHORT_SHARE = 1 / 20
# … and under this many ohms or volts besides, since no healthy rail of kilohms is short at a hundred.
SHORT_UNDER: Mapping[Quantity, float] = {"resistance": 10.0, "diode": 0.010}
# Where a short would lie below this, two leads cannot tell it from a healthy core rail.
TWO_LEADS_OHMS = 0.05
# An input under this is not powered, whatever a library says or lacks: a healthy 12 V input is kilohms.
LEAST_INPUT_OHMS = 100.0

# Fuses. A good fuse reads next to no ohms: what two leads add stays under this, a sick fuse reads more.
SICK_FUSE_OHMS = 0.3
# From this much on nothing of the fuse is left that carries its current (docs/trade §3.11).
BLOWN_FUSE_OHMS = 1000.0
# A fuse under load or in diode mode drops no more than this, in volts; its ends differ by no more than this share too.
SICK_FUSE_V, SICK_ENDS_SHARE = 0.05, 0.02
# One end under this share of the other is cut off; below this many volts at both ends nothing is live.
BLOWN_END_SHARE, LIVE_V = 0.1, 0.5

# Slot contacts. A junction below the core drops several tenths of a volt: under this it is shorted.
LANE_SHORT_V = Fraction(1, 20)
# Lanes are each other's reference; further from their median than this share, one is odd.
LANE_WITHIN_SHARE = Fraction(1, 4)
# Two readings of one half of a lane contradict each other when they are further apart than both of these.
LANE_CONTRADICT_SHARE, LANE_CONTRADICT_V = Fraction(1, 20), Fraction(1, 50)
# The two halves of the reference clock are alike to within this share, and shorted under this many volts.
CLOCK_HALVES_SHARE, CLOCK_SHORT_V = 0.25, 0.05
# This many lanes read tell what is usual among them.
LEAST_LANES = 3

# Files. Two readings of one thing contradict each other when further apart than this share and this much in its unit.
CONTRADICT_SHARE = 0.05
CONTRADICT: Mapping[Quantity, float] = {"resistance": 0.2, "diode": 0.02, "voltage": 0.02}

# Hunting a short. Input and output of a joined stage read about as two leads held together …
JOINED_OHMS = 1.0
# … and under this share of what lies between two rails by way of ground, where nothing joins them.
JOINED_SHARE = 0.5
# One pad of a lifted coil must read this many times the other before it says which side holds the short.
COIL_SIDE_TIMES = 3.0
# Two joined rails read alike to within this many ohms, for contact and leads, and this share more.
RAILS_ALIKE_SHARE, RAILS_ALIKE_OHMS = 0.05, 0.3
# A warm spot is seen this sharply, in millimetres: a camera's own blur and the copper around spread it.
GLOW_BLUR_MM = 4.0
# Parts further from a warm spot are not named; within one and a half blurs a part may be what glows.
GLOW_NEAR_MM, GLOW_CLOSE_MM = 25.0, 1.5 * GLOW_BLUR_MM

# Injection: it starts at half a volt and goes to one at most, so that it harms no core behind a joined stage.
INJECT_START_V, INJECT_MOST_V = 0.5, 1.0
# Heat that a bare part shows to a camera or to alcohol, in watts; amperes that a lead and a trace take without harm.
INJECT_SEEN_W, INJECT_MOST_A, INJECT_LEAST_A = 1.5, 5.0, 0.5

# Reported power. The slot's 12 V carries this much of its 75 W, in watts …
SLOT_LIMIT_W = 66.0
# … and a card feeds its slot with no more than noise.
SLOT_LEAST_W = -3.0

# A slip of unit is a thousandfold, to within this factor: good cards of one model do not differ by three.
SLIP_STEP, SLIP_WITHIN = 1000.0, 3.0
# Where it would be a short, the digits must be those of good cards: a short may read anything.
SLIP_CLOSE = 1.1

# Same pin, other chip. Two chips do not tell which of them is odd, three do.
LEAST_CHIPS = 3
# A chip is odd beyond this many of the spreads by which its fellows differ …
PEER_ODD_SPREADS = 5.0
# … and beyond what a meter repeats: a share of resistances, and this much in the quantity's own unit.
PEER_SAME_SHARE = 0.06
PEER_SAME: Mapping[Quantity, float] = {"resistance": 0.15, "diode": 0.012, "voltage": 0.012}
# Odd values this much alike, as a share, are one line that several chips share.
PEER_ALIKE_SHARE = 0.05
# Fellows in two groups: at least this many in the smaller, this many times or so far apart (docs/trade §3.13) …
LEAST_IN_GROUP = 2
GROUP_TIMES = 5.0
GROUP_APART: Mapping[Quantity, float] = {"diode": 0.05, "voltage": 0.05}
# … and each alike within itself, as a share or in the quantity's own unit: what chips of one kind differ by.
GROUP_ALIKE_SHARE = 0.3
GROUP_ALIKE: Mapping[Quantity, float] = {"diode": 0.025, "voltage": 0.025}
# This many data lines of one chip tell which of them is odd; they differ more than one ball of several chips.
LEAST_LINES = 6
# A chip that is odd at more than this share of its balls, and at this many, is another part than its fellows.
STRANGER_SHARE, STRANGER_BALLS = 0.5, 6
# Pads nearer to usual than this share of the way back, once the chip is off, are back.
LIFTED_BACK_SHARE = 0.5

# Morning check. Leads held together read under this many ohms, and no more than this much above their usual.
MOST_LEADS_OHMS, LEADS_RISE_OHMS = 1.0, 0.2
# From this many past checks on it is known what is usual for a meter's leads.
ENOUGH_CHECKS = 3

# Known-good cards. The usual spread of a good card's reading, as a share, and the ends between which one is believed.
USUAL_SPREAD, LEAST_SPREAD, MOST_SPREAD = 0.06, 0.02, 0.2
# The usual spread is worth this many cards beside a thing's own; the band holds this share of next good cards.
PRIOR_CARDS, BAND_COVERS = 4.0, 0.99
# From this many cards on a figure is more than a hint.
ENOUGH_CARDS = 3
# An entry further from its fellows than this many spreads is shown as odd.
KNOWN_ODD_SPREADS = 4.0
