"""Numbered steps from an empty file to the present schema; ``user_version`` says how far it is.

Step 1 is the schema of release 0.1 as plain SQL, so that it stays what it was when the models move
on. A later step alters, and is tested from the schema before it.
"""

from __future__ import annotations

from typing import Any

from skeinwork.core.errors import SkeinworkError

_FIRST = """
CREATE TABLE upload (sha256 VARCHAR(255) NOT NULL PRIMARY KEY, name TEXT NOT NULL,
  size INTEGER NOT NULL, created DATETIME NOT NULL);
CREATE TABLE result (identity VARCHAR(255) NOT NULL PRIMARY KEY, number INTEGER NOT NULL UNIQUE,
  step VARCHAR(255) NOT NULL, settings TEXT NOT NULL, parent VARCHAR(255), summary TEXT NOT NULL,
  seconds REAL NOT NULL, created DATETIME NOT NULL);
CREATE INDEX result_step ON result (step);
CREATE INDEX result_parent ON result (parent);
CREATE TABLE skein (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL,
  created DATETIME NOT NULL);
CREATE TABLE strand (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  skein_id INTEGER NOT NULL REFERENCES skein (id) ON DELETE CASCADE, name TEXT NOT NULL,
  corpus VARCHAR(255), cleaning VARCHAR(255), matrix VARCHAR(255), fit VARCHAR(255),
  draft TEXT NOT NULL, revision INTEGER NOT NULL, created DATETIME NOT NULL);
CREATE INDEX strand_skein_id ON strand (skein_id);
CREATE TABLE draft (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE,
  undone INTEGER NOT NULL, settings TEXT NOT NULL);
CREATE INDEX draft_strand_id ON draft (strand_id);
CREATE TABLE topic_note (strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE,
  fit VARCHAR(255) NOT NULL, topic INTEGER NOT NULL, dye INTEGER NOT NULL, label TEXT NOT NULL,
  confirmed INTEGER NOT NULL, note TEXT NOT NULL, set_aside INTEGER NOT NULL,
  revision INTEGER NOT NULL, PRIMARY KEY (strand_id, fit, topic));
CREATE TABLE event (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  skein_id INTEGER NOT NULL REFERENCES skein (id) ON DELETE CASCADE, day VARCHAR(255) NOT NULL,
  label TEXT NOT NULL);
CREATE INDEX event_skein_id ON event (skein_id);
CREATE TABLE job (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  strand_id INTEGER REFERENCES strand (id) ON DELETE CASCADE, kind VARCHAR(255) NOT NULL,
  title TEXT NOT NULL, request TEXT NOT NULL, state VARCHAR(255) NOT NULL, error TEXT,
  done INTEGER NOT NULL, total INTEGER NOT NULL, created DATETIME NOT NULL, started DATETIME,
  finished DATETIME);
CREATE INDEX job_state ON job (state);
CREATE INDEX job_strand_id ON job (strand_id);
CREATE VIRTUAL TABLE search USING fts5(title, text, content='', tokenize='unicode61');
"""
# Wanted settings name the corpus as brought in, which can be another one later.
_BASE = """
UPDATE strand SET draft = json_set(draft, '$.base', coalesce((SELECT
  CASE WHEN json_type(settings, '$.shape') IS NULL THEN identity ELSE parent END
  FROM result WHERE result.identity = strand.corpus), ''));
UPDATE draft SET settings = json_set(settings, '$.base', (SELECT
  coalesce(json_extract(strand.draft, '$.base'), '') FROM strand
  WHERE strand.id = draft.strand_id));
UPDATE job SET request = json_set(request, '$.base', (SELECT
  coalesce(json_extract(strand.draft, '$.base'), '') FROM strand
  WHERE strand.id = job.strand_id)) WHERE kind = 'build';
"""
# All that a result was made from, so that it can be made again where its own files are damaged.
_MADE = """
ALTER TABLE result ADD COLUMN version INTEGER;
ALTER TABLE result ADD COLUMN inputs TEXT;
"""
# A skein that was deleted goes when the server starts the next time.
_DELETED = "ALTER TABLE skein ADD COLUMN deleted DATETIME"
# Words left out, round after round, and lists of words with a name.
_LISTS = """
CREATE TABLE left_out (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE, word TEXT NOT NULL,
  "by" TEXT NOT NULL, looked_at TEXT NOT NULL, created DATETIME NOT NULL);
CREATE INDEX left_out_strand_id ON left_out (strand_id);
CREATE TABLE word_list (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL,
  note TEXT NOT NULL, origin TEXT NOT NULL, sha256 VARCHAR(255) NOT NULL, words INTEGER NOT NULL,
  created DATETIME NOT NULL);
"""
# Tables of forms and lemmas lie beside lists of words.
_KINDS = "ALTER TABLE word_list ADD COLUMN kind VARCHAR(255) NOT NULL DEFAULT 'words'"
# A strand's results are rows, so that a new kind of result needs no column.
_RESULTS = "".join(
    [
        "CREATE TABLE strand_result (strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE,"
        " step VARCHAR(255) NOT NULL, identity VARCHAR(255) NOT NULL, PRIMARY KEY (strand_id, step));\n",
        *(
            f"INSERT INTO strand_result SELECT id, '{step}', {step} FROM strand WHERE {step} IS NOT NULL;\n"
            f"ALTER TABLE strand DROP COLUMN {step};\n"
            for step in ("corpus", "cleaning", "matrix", "fit")
        ),
    ]
)
# Which count was chosen and why, and what was said of the topics of fits before one was.
_CHOICES = """
CREATE TABLE choice (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE, fit VARCHAR(255) NOT NULL,
  taken VARCHAR(255) NOT NULL, reason TEXT NOT NULL, said TEXT NOT NULL, created DATETIME NOT NULL);
CREATE INDEX choice_strand_id ON choice (strand_id);
CREATE TABLE topic_vote (strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE,
  fit VARCHAR(255) NOT NULL, topic INTEGER NOT NULL, vote VARCHAR(255) NOT NULL,
  PRIMARY KEY (strand_id, fit, topic));
"""
# Topics in families, put off, with where their labels came from; what people answer without knowing the model.
_LABELS = """
ALTER TABLE topic_note ADD COLUMN family TEXT NOT NULL DEFAULT '';
ALTER TABLE topic_note ADD COLUMN later INTEGER NOT NULL DEFAULT 0;
ALTER TABLE topic_note ADD COLUMN came VARCHAR(255) NOT NULL DEFAULT '';
ALTER TABLE topic_note ADD COLUMN likeness REAL;
CREATE TABLE topic_check (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE, fit VARCHAR(255) NOT NULL,
  kind VARCHAR(255) NOT NULL, settings TEXT NOT NULL, questions TEXT NOT NULL, created DATETIME NOT NULL);
CREATE INDEX topic_check_strand_id ON topic_check (strand_id);
CREATE TABLE check_answers (check_id INTEGER NOT NULL REFERENCES topic_check (id) ON DELETE CASCADE,
  rater VARCHAR(255) NOT NULL, answers TEXT NOT NULL, created DATETIME NOT NULL, PRIMARY KEY (check_id, rater));
"""
# Statements that are tested over other choices.
_PINS = """
CREATE TABLE pin (id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
  strand_id INTEGER NOT NULL REFERENCES strand (id) ON DELETE CASCADE, of VARCHAR(255) NOT NULL,
  statement TEXT NOT NULL, failed TEXT NOT NULL, created DATETIME NOT NULL);
CREATE INDEX pin_strand_id ON pin (strand_id);
"""
STEPS = (_FIRST, _BASE, _MADE, _DELETED, _LISTS, _KINDS, _RESULTS, _CHOICES, _LABELS, _PINS)


def migrate(database: Any) -> None:
    """Bring the database to the present schema, one transaction a step.

    Raises
    ------
    SkeinworkError
        if a newer version of the program wrote it.
    """
    (version,) = database.execute_sql("PRAGMA user_version").fetchone()
    if version > len(STEPS):
        raise SkeinworkError(
            "This data folder was written by a newer version of Skeinwork. Update, or choose "
            "another folder with --data."
        )
    for number, script in enumerate(STEPS[version:], start=version + 1):
        with database.atomic():
            for statement in filter(str.strip, script.split(";\n")):
                database.execute_sql(statement)
            database.execute_sql(f"PRAGMA user_version = {number}")
