"""The cautions, in one place: where the work can hurt someone. They do not replace local codes or training."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uvrix.language import gettext


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution; `every_time` where the hazard is at hand each time and not only once a shift."""

    says: str
    every_time: bool = False


CAUTIONS: Mapping[str, Caution] = {
    "fumes": Caution(gettext("Fume extraction on. Wash hands before eating: solder, lead and flux stay on them.")),
    "hot": Caution(gettext("Iron, air, preheater and board are hot long after they are off.")),
    "eyes": Caution(gettext("Eye protection for hot air, drilling and clamps."), every_time=True),
    "static": Caution(gettext("Wrist strap on and grounded before a card is touched.")),
    "unplugged": Caution(gettext("Unplugged and discharged before any probe or iron touches it.")),
    "powered": Caution(
        gettext("Hands off while it is on, eyes covered: parts burst. No probe may slip."), every_time=True
    ),
    "shorted": Caution(gettext("A part that shorts can be hot enough to burn a finger."), every_time=True),
    "mains": Caution(gettext("Mains parts of a supply are for licensed electricians.")),
    "injection": Caution(
        gettext("Current-limited, short and attended only: stop when the core warms."), every_time=True
    ),
    "alcohol": Caution(gettext("Alcohol is flammable: none near hot air, a hot board or a flame."), every_time=True),
    "dust": Caution(
        gettext("Dust of a ground or drilled board is harmful: mask, and suction at the spot."), every_time=True
    ),
    "waste": Caution(gettext("Local rules say where boards, solder and chemicals go.")),
}
DEFER = gettext("These cautions do not replace local codes or training.")
# What injecting calls for; what each act at Rework calls for stands with the acts (rework/acts.py).
FOR_INJECTION = ("injection", "alcohol", "shorted")
SHIFT_HOURS = 10.0
