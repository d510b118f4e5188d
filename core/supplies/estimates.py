"""What a supply probably weighs and bears as long as nobody has measured it (supplies; rules 13.7).

Estimates to begin with, each from the size and what the material ordinarily is; they are marked until measured.
"""

from decimal import ROUND_HALF_UP, Decimal

from core.supplies.items import Board
from core.units import Micrometres, Milligrams, Size

__all__ = ["BOARD_G_PER_M2", "GLUE_FLAP_UM", "board_area_m2", "carton_load_mg", "carton_tare_mg", "mailer_tare_mg"]

#: Weight of corrugated board by its walls, g/m2: a judgement, the middle of what cartons of these walls weigh.
BOARD_G_PER_M2: dict[Board, int] = {"single": 540, "double": 720, "none": 400}
#: The flap that joins the two ends of the blank.
GLUE_FLAP_UM: Micrometres = 35_000
#: What a square metre of board is trusted with, and the most a carton of it is, mg: judgements, on the careful side.
_LOAD_MG_PER_M2: dict[Board, int] = {"single": 20_000_000, "double": 25_000_000, "none": 10_000_000}
_MOST_LOAD_MG: dict[Board, int] = {"single": 15_000_000, "double": 30_000_000, "none": 5_000_000}
_UM2_PER_M2 = Decimal(10**12)
#: Estimates are not written finer than they mean.
_WHOLE_G, _HALF_KG = 1_000, 500_000


def board_area_m2(inner: Size) -> Decimal:
    """Return the board in a carton whose flaps meet in the middle: 2 (L + W) + 35 mm long, W + H wide (geometry)."""
    length = 2 * (inner.length_um + inner.width_um) + GLUE_FLAP_UM
    return Decimal(length * (inner.width_um + inner.height_um)) / _UM2_PER_M2


def carton_tare_mg(inner: Size, board: Board) -> Milligrams:
    """Return what an empty carton weighs: its board x the weight of a square metre, to the gram. At least 1 g."""
    return max(_WHOLE_G, _to(board_area_m2(inner) * BOARD_G_PER_M2[board] * 1_000, _WHOLE_G))


def carton_load_mg(inner: Size, board: Board) -> Milligrams:
    """Return what a carton is trusted with, to the half kilogram; at least that much."""
    load = min(board_area_m2(inner) * _LOAD_MG_PER_M2[board], Decimal(_MOST_LOAD_MG[board]))
    return max(_HALF_KG, _to(load, _HALF_KG))


def mailer_tare_mg(flat_length_um: Micrometres, flat_width_um: Micrometres, g_per_m2: int) -> Milligrams:
    """Return what an empty mailer weighs: two faces of what it is made of, to the gram. At least 1 g."""
    area = Decimal(2 * flat_length_um * flat_width_um) / _UM2_PER_M2
    return max(_WHOLE_G, _to(area * g_per_m2 * 1_000, _WHOLE_G))


def _to(value: Decimal, step: int) -> int:
    return int((value / step).quantize(Decimal(1), rounding=ROUND_HALF_UP)) * step
