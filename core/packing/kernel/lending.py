"""Arrays lent to the innermost loops as bare addresses (packing kernel; what the compiler is told of them, decision
18).

To hand on an array is to hand on seven numbers and to count its users, and each index is checked for counting from the
end: more than half of the time of small loops. A lent array is one number, the address; how far apart rows lie is known
when the loops are compiled. It is read and written one by one, ``at[i, 2]``, and knows neither its length nor its
users:
the lender must outlive it, and no index may be negative or too large.
"""

import operator
from typing import Any

from numba.core import types
from numba.core.errors import TypingError
from numba.core.typing.templates import AbstractTemplate, infer_global, signature
from numba.extending import intrinsic, lower_builtin, models, register_model

__all__ = ["lent", "lent_sixes", "lent_threes", "lent_ways"]


class _Lent(types.Type):
    """The type of a lent array: what it holds, and how many numbers one step along each axis passes over."""

    def __init__(self, dtype: Any, steps: tuple[int, ...]) -> None:
        self.dtype, self.steps = dtype, steps
        super().__init__(name=f"lent({dtype}, {steps})")


@register_model(_Lent)
class _AddressOnly(models.PrimitiveModel):
    """One address is all there is of it."""

    def __init__(self, manager: Any, lent_type: Any) -> None:
        super().__init__(manager, lent_type, manager.lookup(lent_type.dtype).get_data_type().as_pointer())


def _places(lent_type: Any, index: Any) -> Any:
    """Return the type an index is turned into; None for one that does not fit."""
    if isinstance(index, types.Integer):
        return types.intp if len(lent_type.steps) == 1 else None
    if isinstance(index, types.BaseTuple) and len(index) == len(lent_type.steps):
        return types.UniTuple(types.intp, len(index))
    return None


@infer_global(operator.getitem)
class _Read(AbstractTemplate):
    def generic(self, args: Any, kws: Any) -> Any:
        array, index = args
        places = _places(array, index) if isinstance(array, _Lent) else None
        return None if places is None else signature(array.dtype, array, places)


@infer_global(operator.setitem)
class _Write(AbstractTemplate):
    def generic(self, args: Any, kws: Any) -> Any:
        array, index, _ = args
        places = _places(array, index) if isinstance(array, _Lent) else None
        return None if places is None else signature(types.none, array, places, array.dtype)


def _address_of(builder: Any, array: Any, pointer: Any, index: Any) -> Any:
    places = [index] if len(array.steps) == 1 else [builder.extract_value(index, n) for n in range(len(array.steps))]
    whole = None
    for place, step in zip(places, array.steps, strict=True):
        part = place if step == 1 else builder.mul(place, place.type(step), flags=("nsw",))
        whole = part if whole is None else builder.add(whole, part, flags=("nsw",))
    return builder.gep(pointer, [whole], inbounds=True)


@lower_builtin(operator.getitem, _Lent, types.Any)
def _read(context: Any, builder: Any, called: Any, args: Any) -> Any:
    array = called.args[0]
    return context.unpack_value(builder, array.dtype, _address_of(builder, array, *args))


@lower_builtin(operator.setitem, _Lent, types.Any, types.Any)
def _write(context: Any, builder: Any, called: Any, args: Any) -> Any:
    array = called.args[0]
    context.pack_value(builder, array.dtype, args[2], _address_of(builder, array, *args[:2]))
    return context.get_dummy_value()


def _lending(*steps: int) -> Any:
    """Return what lends an array with these steps."""

    def code(_typing: Any, array: Any) -> Any:
        if array.layout != "C" or array.ndim != len(steps):
            raise TypingError(
                f"only an array of {len(steps)} axes, its rows one after the other, is lent so: not {array}"
            )
        return _Lent(array.dtype, steps)(array), _address

    return intrinsic(code)


def _address(context: Any, builder: Any, called: Any, args: Any) -> Any:
    return context.make_array(called.args[0])(context, builder, value=args[0]).data


#: A row of numbers; n x 3, n x 6 and n x 6 x 3 numbers.
lent, lent_threes, lent_sixes, lent_ways = _lending(1), _lending(3, 1), _lending(6, 1), _lending(18, 3, 1)
