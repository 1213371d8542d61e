"""Ask for memory before it is read, so that a kernel that jumps about in a large table need not wait for it."""

from __future__ import annotations

from typing import Any

from llvmlite import ir
from numba import types
from numba.core import cgutils
from numba.extending import intrinsic


@intrinsic
def prefetch(_context: Any, array: Any, row: Any, column: Any) -> Any:
    """Within a kernel: ask for ``array[row, column]`` and what lies beside it; changes nothing.

    Parameters
    ----------
    array : of two dimensions; row, column : that are in it
    """

    def generate(context: Any, builder: Any, signature: Any, arguments: Any) -> Any:
        held = context.make_array(signature.args[0])(context, builder, arguments[0])
        offsets = [
            builder.mul(at, stride)
            for at, stride in zip(arguments[1:], cgutils.unpack_tuple(builder, held.strides), strict=True)
        ]
        size, number, place = ir.IntType(64), ir.IntType(32), ir.IntType(8).as_pointer()
        address = builder.add(builder.ptrtoint(held.data, size), builder.add(*offsets))
        kind = ir.FunctionType(ir.VoidType(), [place, number, number, number])
        ask = builder.module.declare_intrinsic("llvm.prefetch", [place], kind)
        # To be read, of use for long, in the cache of data.
        builder.call(ask, [builder.inttoptr(address, place), *(ir.Constant(number, n) for n in (0, 3, 1))])
        return context.get_dummy_value()

    return types.void(array, types.intp, types.intp), generate
