"""What a shop sets for its stock: how lots are read, prices, what heat does, when to order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from uvrix.core.boards.schema import TEXT, Schema, object_of
from uvrix.core.stock.lots import LOT_RULES_SCHEMA, LotRule, Prices, Risk, read_rules
from uvrix.core.values.shape import check_shape

MONEY = {"type": "number", "minimum": 0, "maximum": 1_000_000}
SHARE = {"type": "number", "minimum": 0, "maximum": 1}
SETTINGS_SCHEMA: Schema = object_of(
    [],
    rules=LOT_RULES_SCHEMA["properties"]["rules"],
    chip=MONEY,
    work=MONEY,
    start=MONEY,
    comeback=MONEY,
    kills=SHARE,
    halves_mm={"type": "number", "exclusiveMinimum": 0, "maximum": 100},
    wear={"type": "number", "minimum": 0, "maximum": 10},
    lead_days={"type": "number", "exclusiveMinimum": 0, "maximum": 365},
    run_out=SHARE,
    currency=TEXT,
)


@dataclass(frozen=True, slots=True)
class StockSettings:
    """A shop's settings; `run_out` is the chance to run out above which a part is to be ordered."""

    rules: tuple[LotRule, ...] = ()
    prices: Prices = field(default_factory=lambda: Prices(18.0, 30.0, 40.0, 160.0))
    risk: Risk = field(default_factory=Risk)
    lead_days: float = 14.0
    run_out: float = 0.1


def read_settings(document: Mapping[str, Any]) -> StockSettings:
    """A shop's settings. Raises Refusal naming the path."""
    check_shape(document, SETTINGS_SCHEMA)
    rules = read_rules({"rules": document.get("rules", [])})
    usual = StockSettings()
    prices = {name: float(document.get(name, getattr(usual.prices, name))) for name in PRICES}
    risk = {name: float(document.get(name, getattr(usual.risk, name))) for name in RISKS}
    return StockSettings(
        rules,
        Prices(**prices),
        Risk(**risk),
        float(document.get("lead_days", usual.lead_days)),
        float(document.get("run_out", usual.run_out)),
    )


PRICES, RISKS = ("chip", "work", "start", "comeback"), ("kills", "halves_mm", "wear")


def as_document(settings: StockSettings) -> dict[str, Any]:
    """Settings as they are saved."""
    rules = [
        {"name": rule.name, "pattern": rule.pattern, "vendor": rule.vendor, "type": rule.type, "century": rule.century}
        for rule in settings.rules
    ]
    figures = {name: getattr(settings.prices, name) for name in PRICES}
    figures |= {name: getattr(settings.risk, name) for name in RISKS}
    return {"rules": rules, **figures, "lead_days": settings.lead_days, "run_out": settings.run_out}
