"""A workshop copied whole, in SQL: every table of the program, each id moved by so many billions.

Names that must be one in the whole database (codes of workshops, people, labels, pages of buyers) become others.
"""

from typing import Any

from django.apps import apps
from django.db import connection, models

from server.workshops.models import Member, Workshop

__all__ = ["copy_workshop"]

#: Between the ids of two workshops.
_FAR = 1_000_000_000
#: People are kept by Django in a table with shorter ids.
_PEOPLE_FAR = 1_000


def copy_workshop(workshop_id: int, nth: int) -> int:
    """Copy a workshop that stands in the first billion; return the new one's id. In the caller's transaction."""
    with connection.cursor() as cursor:
        cursor.execute("set constraints all deferred")
        cursor.execute(
            f"""insert into auth_user select (u).* from (
                    select jsonb_populate_record(u, jsonb_build_object(
                        'id', u.id + {nth * _PEOPLE_FAR}, 'username', u.username || %s)) u
                    from auth_user u where u.id in (select user_id from workshops_member where workshop_id = %s)) x""",
            [str(nth), workshop_id],
        )
        for model in apps.get_models():
            if model is Workshop or _of_a_workshop(model):
                _copy(cursor, model, workshop_id, nth)
    return workshop_id + nth * _FAR


def _of_a_workshop(model: type[models.Model]) -> bool:
    return model.__module__.startswith("server.") and any(one.name == "workshop" for one in model._meta.concrete_fields)


def _copy(cursor: Any, model: type[models.Model], workshop_id: int, nth: int) -> None:
    columns = {one.column: _value(model, one, nth) for one in model._meta.concrete_fields if one.column}
    where = "id" if model is Workshop else "workshop_id"
    cursor.execute(
        f'insert into "{model._meta.db_table}" ({", ".join(connection.ops.quote_name(one) for one in columns)}) '
        f'select {", ".join(columns.values())} from "{model._meta.db_table}" where {where} = %s',
        [workshop_id],
    )


def _value(model: type[models.Model], field: "models.Field[Any, Any]", nth: int) -> str:
    """Return what a column of a copy holds."""
    column = connection.ops.quote_name(field.column or "")
    related = field.related_model if field.is_relation else None
    if model is Member and field.name == "user":
        return f"{column} + {nth * _PEOPLE_FAR}"
    if field.primary_key or related is Workshop or (isinstance(related, type) and _of_a_workshop(related)):
        return f"{column} + {nth * _FAR}"
    if not field.unique:
        return column
    if isinstance(field, models.UUIDField):
        return f"md5({column}::text || '/{nth}')::uuid"
    if model is Workshop:
        return f"{column} || '-{nth}'"
    return f"left(md5({column} || '/{nth}'), {field.max_length})"
