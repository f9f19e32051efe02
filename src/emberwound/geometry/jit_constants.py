"""Teaches Numba the classes of named numbers in `geometry.layout`: a kernel reads `BodyColumn.END` as 3."""

# Numba's extension calls carry no types that fit.
# mypy: disable-error-code="no-untyped-call,untyped-decorator,override,misc"

from __future__ import annotations

from typing import Any

from numba.core import types
from numba.core.imputils import lower_constant, lower_getattr_generic
from numba.core.typing.templates import AttributeTemplate, infer_getattr
from numba.extending import models, register_model, typeof_impl

from emberwound.geometry.layout import NamedNumbers


class _ConstantsOf(types.Dummy):
    """What Numba sees of a class of named numbers: nothing at run time, and each name as a whole number."""

    def __init__(self, named: NamedNumbers) -> None:
        self.named = named
        super().__init__(name=named.__name__)


register_model(_ConstantsOf)(models.OpaqueModel)


@typeof_impl.register(NamedNumbers)
def _type_of_constants(named: NamedNumbers, _context: object) -> _ConstantsOf:
    return _ConstantsOf(named)


@infer_getattr
class _ConstantsNames(AttributeTemplate):
    """Any whole number: as literals they would compile each kernel that takes one once for each of its values."""

    key = _ConstantsOf

    def generic_resolve(self, _of: _ConstantsOf, _name: str) -> Any:
        return types.int64


@lower_constant(_ConstantsOf)
def _lower_constants(context: Any, _builder: object, _of: object, _value: object) -> Any:
    return context.get_dummy_value()


@lower_getattr_generic(_ConstantsOf)
def _lower_name(context: Any, _builder: object, of: _ConstantsOf, _value: object, name: str) -> Any:
    return context.get_constant(types.int64, getattr(of.named, name))
