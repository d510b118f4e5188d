"""The temperature of one box over its way, second by second, compiled (care; used by ``thermal``; rules 15.3).

One lump of goods and air at one temperature; a liner that lets heat through; cold packs, each at its own temperature:
below its melting point it warms up, at it it melts, above it it is water; heat packs that give their power for so many
hours. Heun's rule: the mean of two slopes a step. Everything compiled stands in this one file
(``packing.kernel.compiled``).
"""

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from core.packing.kernel.compiled import compiled

__all__ = ["RESULTS", "Row", "System", "run"]

Row = npt.NDArray[np.float64]

#: What ``run`` gives besides the temperatures: coldest, warmest, coldest that goods at a pack get, heat in through the
#: walls J, heat given by heat packs J, heat taken up by goods and packs J, share of the packs melted.
RESULTS = 7


class System(NamedTuple):
    """A box; temperatures degrees Celsius, heat J, conductance W/K."""

    ua: float  #: of the walls
    goods_j_per_k: float
    start_c: float
    packs: float  #: how many cold packs
    pack_w_per_k: float  #: contact of one
    pack_start_c: float
    melts_c: float
    latent_j: float  #: of one
    solid_j_per_k: float  #: of one, frozen
    liquid_j_per_k: float  #: of one, melted; 0: it is gone
    touch: float  #: so far goods at a pack follow its temperature, 0 to 1
    heat_w: float  #: of all heat packs together
    heat_hours: float


@compiled
def _pack_c(s: System, energy: float) -> float:
    """Return a pack's temperature from the heat it took up since it began to melt (less than nought: before that)."""
    if energy < 0.0:
        return s.melts_c + energy / s.solid_j_per_k
    if energy <= s.latent_j or s.liquid_j_per_k <= 0.0:
        return s.melts_c
    return s.melts_c + (energy - s.latent_j) / s.liquid_j_per_k


@compiled
def run(s: System, outside_c: Row, hour_s: float, step_s: float, trace_c: Row, packs_c: Row, results: Row) -> None:
    """Work the box out over the hours; write its temperature at the end of each, the packs' and the results."""
    box = s.start_c
    energy = (s.pack_start_c - s.melts_c) * s.solid_j_per_k
    if energy > 0.0:
        energy = 0.0
    began_box, began_energy = box, energy
    low, high, touch = box, box, box
    walls, heaters, clock = 0.0, 0.0, 0.0
    steps = max(1, int(hour_s / step_s + 0.5))
    dt = hour_s / steps
    for hour in range(outside_c.shape[0]):
        out = outside_c[hour]
        for _ in range(steps):
            gone = s.liquid_j_per_k <= 0.0 and energy >= s.latent_j
            pack = _pack_c(s, energy)
            flow = 0.0 if gone else s.packs * s.pack_w_per_k * (box - pack)
            heat = s.heat_w if clock < s.heat_hours * 3600.0 else 0.0
            through = s.ua * (out - box)
            slope = (through + heat - flow) / s.goods_j_per_k
            each = flow / s.packs if s.packs > 0.0 else 0.0
            box2, energy2 = box + slope * dt, energy + each * dt
            gone2 = s.liquid_j_per_k <= 0.0 and energy2 >= s.latent_j
            flow2 = 0.0 if gone2 else s.packs * s.pack_w_per_k * (box2 - _pack_c(s, energy2))
            through2 = s.ua * (out - box2)
            slope2 = (through2 + heat - flow2) / s.goods_j_per_k
            each2 = flow2 / s.packs if s.packs > 0.0 else 0.0
            walls += (through + through2) / 2.0 * dt
            heaters += heat * dt
            box += (slope + slope2) / 2.0 * dt
            energy += (each + each2) / 2.0 * dt
            clock += dt
            if box < low:
                low = box
            if box > high:
                high = box
            if s.packs > 0.0 and not gone:
                near = box - s.touch * (box - pack)
                if near < touch:
                    touch = near
        trace_c[hour] = box
        packs_c[hour] = _pack_c(s, energy)
    results[0], results[1], results[2] = low, high, min(low, touch)
    results[3], results[4] = walls, heaters
    results[5] = (box - began_box) * s.goods_j_per_k + (energy - began_energy) * s.packs
    melted = energy / s.latent_j if s.latent_j > 0.0 else 0.0
    results[6] = min(1.0, max(0.0, melted)) if s.packs > 0.0 else 0.0
