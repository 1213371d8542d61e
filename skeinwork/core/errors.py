"""What can be wrong with an analyst's input, always as a sentence with a remedy."""

from __future__ import annotations

NO_DOCUMENTS = "There are no documents yet. Bring some in at Gather."


class SkeinworkError(Exception):
    """Base of all errors whose message is written for the analyst."""


class BadInputError(SkeinworkError):
    """A file, a setting or a request that can't be used, with the reason."""


class UsageError(BadInputError):
    """Options, or files they name, with which nothing can be begun."""


class CancelledError(SkeinworkError):
    """The analyst stopped the work."""


class NotFoundError(SkeinworkError):
    """Something that is not there, or not any more."""
