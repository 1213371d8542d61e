"""The records. Migrations in ``migrations.py`` bring an older database to this schema."""

from __future__ import annotations

import datetime
import json
from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import Any

from peewee import (
    AutoField,
    BooleanField,
    CharField,
    CompositeKey,
    DatabaseProxy,
    DateTimeField,
    FloatField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
)

from skeinwork.core.errors import SkeinworkError

database = DatabaseProxy()


def now() -> datetime.datetime:
    return datetime.datetime.now(datetime.UTC).replace(tzinfo=None)


class DamagedRecordError(SkeinworkError):
    """A record of the database is not what was written."""

    def __str__(self) -> str:
        return "a record in the database is damaged"


class JSONField(TextField):
    """A value kept as JSON text."""

    def db_value(self, value: Any) -> str | None:
        return None if value is None else json.dumps(value, ensure_ascii=False, sort_keys=True)

    def python_value(self, value: str | None) -> Any:
        try:
            return None if value is None else json.loads(value)
        except ValueError as fault:
            raise DamagedRecordError from fault


class Record(Model):
    class Meta:
        database = database
        legacy_table_names = False


class Upload(Record):
    """A file as it was brought in, kept under its checksum."""

    sha256 = CharField(primary_key=True)
    name = TextField()
    size = IntegerField()
    created = DateTimeField(default=now)


class Result(Record):
    """A result that was made; never changed. Its files may be damaged since, and are made again."""

    identity = CharField(primary_key=True)
    number = IntegerField(unique=True)
    step = CharField(index=True)
    settings = JSONField()
    parent = CharField(null=True, index=True)
    version = IntegerField(null=True)
    inputs = JSONField(null=True)
    summary = JSONField()
    seconds = FloatField(default=0)
    created = DateTimeField(default=now)


class Skein(Record):
    """One piece of work."""

    strands: Any
    events: Any
    id = AutoField()
    name = TextField()
    created = DateTimeField(default=now)
    deleted = DateTimeField(null=True)


class Strand(Record):
    """Results, and the settings wanted next. ``revision`` guards against lost edits."""

    skein_id: int
    kept: Any
    choices: Any
    checks: Any
    pins: Any
    id = AutoField()
    skein = ForeignKeyField(Skein, backref="strands", on_delete="CASCADE")
    name = TextField(default="")
    draft: Any = JSONField()
    revision = IntegerField(default=1)
    created = DateTimeField(default=now)

    @cached_property
    def results(self) -> Mapping[str, str]:
        """Identities by step, as they stood when first asked for; ask inside a connection."""
        return {row.step: row.identity for row in self.kept}

    def put(self, results: Mapping[str, str | None]) -> None:
        """Take results by their steps, in place of those before; let go of those that are None."""
        present = {row.step: row.identity for row in self.kept}
        for step, identity in results.items():
            if identity == present.get(step):
                continue
            if identity is None:
                StrandResult.delete().where((StrandResult.strand == self) & (StrandResult.step == step)).execute()
            else:
                StrandResult.insert(strand=self, step=step, identity=identity).on_conflict_replace().execute()
        self.__dict__.pop("results", None)


class StrandResult(Record):
    """A result that stands on a strand: one of each step."""

    strand_id: int
    strand = ForeignKeyField(Strand, backref="kept", on_delete="CASCADE")
    step = CharField()
    identity = CharField()

    class Meta:
        primary_key = CompositeKey("strand", "step")


class Draft(Record):
    """Settings that were tried before or after the present ones: the stacks of undo and redo."""

    id = AutoField()
    strand = ForeignKeyField(Strand, backref="drafts", on_delete="CASCADE")
    undone = BooleanField(default=False)
    settings = JSONField()


class TopicNote(Record):
    """What a person, or matching to an earlier fit, said about one topic of a fit.

    ``came`` is how its label came from elsewhere, with the ``likeness`` of the two topics.
    """

    strand = ForeignKeyField(Strand, on_delete="CASCADE")
    fit = CharField()
    topic = IntegerField()
    dye = IntegerField()
    label = TextField(default="")
    confirmed = BooleanField(default=False)
    note = TextField(default="")
    set_aside = BooleanField(default=False)
    family = TextField(default="")
    later = BooleanField(default=False)
    came = CharField(default="")
    likeness = FloatField(null=True)
    revision = IntegerField(default=1)

    class Meta:
        primary_key = CompositeKey("strand", "fit", "topic")

    @classmethod
    def insert_rows(cls, rows: Sequence[dict[str, Any]]) -> None:
        """Insert any number of rows, so many at a time as one statement may hold."""
        for first in range(0, len(rows), 50):
            cls.insert_many(rows[first : first + 50]).execute()


class Choice(Record):
    """A number of topics that was chosen: the fit compared, the one taken for it, why, and what spoke for it then."""

    strand_id: int
    id = AutoField()
    strand = ForeignKeyField(Strand, backref="choices", on_delete="CASCADE")
    fit = CharField()
    taken = CharField()
    reason = TextField()
    said: Any = JSONField()
    created = DateTimeField(default=now)


class TopicVote(Record):
    """What a person said of a topic of a fit before one was chosen."""

    strand = ForeignKeyField(Strand, on_delete="CASCADE")
    fit = CharField()
    topic = IntegerField()
    vote = CharField()

    class Meta:
        primary_key = CompositeKey("strand", "fit", "topic")


class TopicCheck(Record):
    """Questions on the topics of a fit that people answer without knowing what the model says."""

    strand_id: int
    answers: Any
    id = AutoField()
    strand = ForeignKeyField(Strand, backref="checks", on_delete="CASCADE")
    fit = CharField()
    kind = CharField()
    settings: Any = JSONField()
    questions: Any = JSONField()
    created = DateTimeField(default=now)


class CheckAnswers(Record):
    """What one person answered, by the place of each question."""

    check_id: int
    check = ForeignKeyField(TopicCheck, backref="answers", on_delete="CASCADE")
    rater = CharField()
    answers: Any = JSONField()
    created = DateTimeField(default=now)

    class Meta:
        primary_key = CompositeKey("check", "rater")


class Pin(Record):
    """A statement that somebody pinned, on a fit or a cleaning; ``failed`` says why some choices made nothing."""

    strand_id: int
    id = AutoField()
    strand = ForeignKeyField(Strand, backref="pins", on_delete="CASCADE")
    of = CharField()
    statement: Any = JSONField()
    failed: Any = JSONField(default=dict)
    created = DateTimeField(default=now)


class Event(Record):
    """A dated line on the charts of a skein."""

    id = AutoField()
    skein = ForeignKeyField(Skein, backref="events", on_delete="CASCADE")
    day = CharField()
    label = TextField()


class LeftOut(Record):
    """A word that somebody left out of a strand: who, when, after looking at what."""

    id = AutoField()
    strand = ForeignKeyField(Strand, backref="left_out", on_delete="CASCADE")
    word = TextField()
    by = TextField(default="")
    looked_at = TextField(default="")
    created = DateTimeField(default=now)


class WordList(Record):
    """A list of words with a name; the words lie under the checksum, and any skein may use it.

    Of the kind ``table`` its lines are forms and lemmas.
    """

    id = AutoField()
    kind: Any = CharField(default="words")
    name = TextField()
    note = TextField(default="")
    origin = TextField(default="")
    sha256 = CharField()
    words = IntegerField()
    created = DateTimeField(default=now)


class Job(Record):
    """A request that takes a while."""

    strand_id: int | None
    id = AutoField()
    strand = ForeignKeyField(Strand, null=True, on_delete="CASCADE")
    kind = CharField()
    title = TextField()
    request = JSONField()
    state = CharField(index=True)
    error = TextField(null=True)
    done = IntegerField(default=0)
    total = IntegerField(default=0)
    created = DateTimeField(default=now)
    started = DateTimeField(null=True)
    finished = DateTimeField(null=True)


TABLES = (
    *(Upload, Result, Skein, Strand, StrandResult, Draft, TopicNote, Choice, TopicVote, TopicCheck, CheckAnswers),
    *(Pin, Event, LeftOut, WordList, Job),
)
