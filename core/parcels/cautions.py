"""What to mind with goods, for a whole order or for one of its parcels (parcels; shown where the hands are)."""

from core.messages import Text, say
from core.recipes.expand import OrderLine
from core.recipes.goods import cautions_of

__all__ = ["cautions_for"]


def cautions_for(lines: tuple[OrderLine, ...]) -> tuple[Text, ...]:
    """Return what to mind with the goods, what their recipes say, and what is done before the packing; each once."""
    told: list[Text] = [caution for line in lines if line.product for caution in cautions_of(line.product)]
    told += [caution for line in lines if line.recipe for caution in line.recipe.cautions]
    ahead = [one for line in lines if line.recipe for one in line.recipe.ahead]
    told += [say("hours_before_packing", hours_number=one.hours_before, what=one.what) for one in ahead]
    return tuple(dict.fromkeys(told))
