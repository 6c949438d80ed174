"""A write that a browser may repeat is done once: the second time gets the first answer."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Final, TypeVar

from peewee import fn
from pydantic import BaseModel, ValidationError

from ubrex.server.desk._errors import Clash, KeyReused
from ubrex.server.desk._work import Work
from ubrex.server.store.prepared import Insert, Prepared
from ubrex.server.store.records import Idempotency
from ubrex.server.words.desk import DONE_BEFORE, KEY_REUSED

KEPT: Final = timedelta(days=30)
"""How long an answer can be asked for again."""

OutModel = TypeVar("OutModel", bound=BaseModel)

_KEYS: Final = Insert(Idempotency)
_ANSWER: Final[Prepared[Idempotency]] = Prepared(
    lambda response, key: Idempotency.update(response=response).where(Idempotency.key == key)
)


def once(work: Work, key: str, request_hash: str, answer: type[OutModel], case: Callable[[Work], OutModel]) -> OutModel:
    """Answer of ``case``, which runs only the first time ``key`` comes.

    The key is inserted first: a second request with it waits for the first to be kept or undone.

    Raises
    ------
    KeyReused
        If the key came before with another request.
    Clash
        If it was done by an older version, whose answer cannot be given again.
    """
    if not _KEYS.add_unless_there(key=key, request_hash=request_hash, at=work.now):
        before = Idempotency.get_by_id(key)
        if before.request_hash != request_hash:
            raise KeyReused(KEY_REUSED)
        try:
            return answer.model_validate_json(before.response or "")
        except ValidationError as error:
            raise Clash(DONE_BEFORE, code="done_before") from error
    result = case(work)
    work.wrote(work.now)
    _ANSWER.run(result.model_dump_json(), key)
    return result


def forget_old(work: Work) -> int:
    """Drop answers nobody can still ask for; how many. Remembers when the newest was given, for the desk's clock."""
    newest = Idempotency.select(fn.MAX(Idempotency.at)).scalar()
    if newest is not None:
        work.wrote(newest)
    count: int = Idempotency.delete().where(Idempotency.at < work.now - KEPT).execute()
    return count
