"""What made a value, in words: who brought how much of a difference, and no more than that."""

from collections.abc import Sequence

import numpy as np

from fluctus.core.judgment.contributions import WhatMadeIt, Whole
from fluctus.core.words.numbers import NumberStyle
from fluctus.core.words.wording import in_a_row

MOST_NAMED = 3
LESS = "\N{MINUS SIGN}"
HOW = {
    Whole.SUM: "Each part's value less its own average in the stretch it is held against.",
    Whole.MEAN: (
        "Each part's value off the average of the whole, by its share of the values, less the "
        "same on average in the stretch it is held against."
    ),
    Whole.RATIO: (
        f"Of rate r and share of the denominators w, the rate gave (r {LESS} r\N{SUBSCRIPT ZERO})"
        f"(w + w\N{SUBSCRIPT ZERO})/2 and the weight (w {LESS} w\N{SUBSCRIPT ZERO})"
        f"((r + r\N{SUBSCRIPT ZERO})/2 {LESS} R), with \N{SUBSCRIPT ZERO} in the stretch it is "
        "held against and R the ratio of all there."
    ),
}
ADDS_UP = "They add up to the whole difference."
ALIKE = "Everywhere alike: no part is further off its own average than chance explains."


def say_what_made_it(
    shares: WhatMadeIt, names: Sequence[str], numbers: NumberStyle, than: str = "usual"
) -> str:
    """Say which parts made a difference: ``Of the 9 more than usual, Marrowick brought 7.``

    ``names`` are those of the parts, ``than`` what the value is held against. Only parts are named
    that stand out from what each of so many brings by chance.
    """
    difference = shares.value - shares.usual
    brought = shares.brought.tolist()
    named = [int(part) for part in np.argsort(-np.abs(shares.brought)) if shares.stands_out[part]]
    if not named:
        return ALIKE
    more = len(named) - MOST_NAMED
    along, against = (
        [part for part in named[:MOST_NAMED] if (brought[part] * way > 0)]
        for way in ((1, -1) if difference >= 0 else (-1, 1))
    )
    if not _shows(difference, numbers):
        told = f"No more and no less than {than} altogether, but not in each part: "
        signed = [f"{names[part]} {_signed(brought[part], numbers)}" for part in named[:3]]
        return f"{told}{in_a_row(signed)}."
    amount = numbers.level_difference(abs(difference))
    text = f"Of the {amount} {'more' if difference > 0 else 'less'} than {than}, "
    if along:
        text += in_a_row(
            [f"{names[part]} brought {_size(brought[part], numbers)}" for part in along]
        )
    if against:
        taken = in_a_row(
            [
                f"{names[part]} went the other way by {_size(brought[part], numbers)}"
                for part in against
            ]
        )
        text += f"; {taken}" if along else f"no part brought more than chance explains; {taken}"
    if more > 0:
        text += f"; {more} more {'part stands' if more == 1 else 'parts stand'} out"
    return f"{text}."


def say_halves(shares: WhatMadeIt, names: Sequence[str], numbers: NumberStyle, than: str) -> str:
    """Say what each of the KPIs that another one is made from brought; these need no chance."""
    difference = shares.value - shares.usual
    if not _shows(difference, numbers):
        return f"No more and no less than {than} altogether."
    amount = numbers.level_difference(abs(difference))
    signed = [
        f"{name} {_signed(brought, numbers)}"
        for name, brought in zip(names, shares.brought.tolist(), strict=True)
    ]
    way = "more" if difference > 0 else "less"
    return f"{amount} {way} than {than}: {in_a_row(signed)}."


def _shows(difference: float, numbers: NumberStyle) -> bool:
    return numbers.level(abs(difference)) != numbers.level(0.0)


def _size(amount: float, numbers: NumberStyle) -> str:
    return numbers.level(abs(amount))


def _signed(amount: float, numbers: NumberStyle) -> str:
    text = numbers.level(amount)
    return f"+{text}" if amount > 0 and _shows(amount, numbers) else text


def say_how_shared(whole: Whole | None) -> str:
    """Say how a difference is shared out."""
    return ADDS_UP if whole is None else f"{HOW[whole]} {ADDS_UP}"
