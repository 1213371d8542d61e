"""Everything that goes wrong in a request, as problem details after RFC 9457 with a sentence."""

from __future__ import annotations

import re
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from peewee import OperationalError
from pydantic import BaseModel, ConfigDict
from starlette.exceptions import HTTPException

from skeinwork.core.errors import BadInputError, CancelledError, NotFoundError, SkeinworkError
from skeinwork.server.state import State, find_strand
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.disk import DiskError
from skeinwork.store.models import Strand
from skeinwork.work.strands.strands import EditConflictError

_STATUS: tuple[tuple[type[SkeinworkError], int, str], ...] = (
    (NotFoundError, 404, "Not there"),
    (EditConflictError, 409, "Changed elsewhere"),
    (BadInputError, 422, "Can't be used"),
    (DiskError, 507, "Disk trouble"),
)
_TITLES = {404: "Not there", 405: "Not so", 413: "Too large"}


class Problem(BaseModel):
    """Problem details: what is wrong, in a sentence for the analyst."""

    model_config = ConfigDict(extra="allow")
    type: str = "about:blank"
    title: str
    status: int
    detail: str


def problem(status: int, title: str, detail: str, **more: Any) -> JSONResponse:
    """Problem details as a response."""
    body = Problem(title=title, status=status, detail=detail, **more).model_dump()
    return JSONResponse(body, status, media_type="application/problem+json")


def _on_fault(_: Request, fault: Exception) -> JSONResponse:
    if isinstance(fault, CancelledError):
        return problem(499, "Left", str(fault))
    for kind, status, title in _STATUS:
        if isinstance(fault, kind):
            return problem(status, title, str(fault))
    return problem(400, "Can't be done", str(fault))


def _on_damaged(request: Request, fault: Exception) -> JSONResponse:
    """A damaged result is made again at once, on behalf of the strand that asked for it."""
    assert isinstance(fault, DamagedResultError)
    state: State = request.app.state.skeinwork
    sentence = str(fault)
    with state.store.connection():
        if (strand := _strand_of(request)) and (failed := state.runner.mend(fault.identity, strand)):
            sentence = f"A stored result is damaged or missing on disk. {failed}"
    return problem(503, "Damaged result", sentence)


def _strand_of(request: Request) -> Strand | None:
    """The strand, or the first of the skein, that a request is about."""
    if number := request.path_params.get("strand_id"):
        return find_strand(int(number))
    number = request.path_params.get("skein_id", 0)
    found: Strand | None = Strand.get_or_none(Strand.skein == int(number))
    return found


def _on_invalid(_: Request, fault: Exception) -> JSONResponse:
    assert isinstance(fault, RequestValidationError)
    errors = [
        {"field": ".".join(str(part) for part in each["loc"][1:]), "problem": each["msg"]} for each in fault.errors()
    ]
    listed = "; ".join(f"{e['field'] or 'request'}: {e['problem']}" for e in errors)
    return problem(422, "Out of range", f"{listed}.", errors=errors)


def _on_refused(request: Request, fault: Exception) -> JSONResponse:
    """What the framework refuses by itself: no such route or method, a body that is none."""
    assert isinstance(fault, HTTPException)
    said = {
        404: f"There is no {request.url.path[:200]}.",
        405: f"{request.method} can't be done here.",
        400: "The request can't be read.",
    }
    sentence = said.get(fault.status_code, str(fault.detail))
    answer = problem(fault.status_code, _TITLES.get(fault.status_code, "Can't be used"), sentence)
    answer.headers.update(fault.headers or {})
    if fault.status_code == 405:
        answer.headers["Allow"] = ", ".join(methods_of(request))
    return answer


def methods_of(request: Request) -> list[str]:
    """The methods that an address of the API has, as it is described."""
    path = request.url.path
    return sorted(
        method.upper()
        for template, operations in request.app.openapi()["paths"].items()
        if re.fullmatch(re.sub(r"\{\w+\}", "[^/]+", re.sub(r"\{\w+_id\}", r"\\d+", template)), path)
        for method in operations
    )


def _on_number(_: Request, __: Exception) -> JSONResponse:
    return problem(422, "Out of range", "A number is larger than can be kept.")


def _on_disk(request: Request, fault: Exception) -> JSONResponse:
    state: State = request.app.state.skeinwork
    return problem(507, "Disk trouble", str(DiskError(state.store.folder, fault)))


# What any route may answer, beside what is its own.
RESPONSES: dict[int | str, dict[str, Any]] = {
    400: {"description": "The request can't be read or done"},
    401: {"description": "The access token is missing"},
    403: {"description": "The request comes from another site"},
    404: {"description": "Something named is not there"},
    405: {"description": "The method is none of this address"},
    409: {"description": "It was changed elsewhere"},
    413: {"description": "More is sent than may be"},
    415: {"description": "What is sent is of another kind"},
    421: {"description": "The server is not called so"},
    422: {"description": "Something is out of range or can't be used"},
    503: {"description": "A stored result is damaged and being made again"},
    507: {"description": "The disk takes nothing more"},
}


def described(schema: dict[str, Any]) -> dict[str, Any]:
    """The description of the API with what every route answers where something is wrong."""
    reference = {"schema": {"$ref": "#/components/schemas/Problem"}}
    schema["components"]["responses"] = {
        f"Problem{status}": {**about, "content": {"application/problem+json": reference}}
        for status, about in RESPONSES.items()
    }
    problems = {str(status): {"$ref": f"#/components/responses/Problem{status}"} for status in RESPONSES}
    for operations in schema["paths"].values():
        for operation in operations.values():
            operation["responses"].update(problems)
    parts = schema["components"]["schemas"]
    parts["Problem"] = Problem.model_json_schema()
    for unused in ("HTTPValidationError", "ValidationError"):
        parts.pop(unused, None)
    for part in list(parts.values()):
        _say_more(part, parts)
    return schema


def _say_more(part: Any, parts: dict[str, Any]) -> None:
    """Files are binary, and what tells settings of several kinds apart has to be given."""
    if isinstance(part, list):
        for each in part:
            _say_more(each, parts)
    elif isinstance(part, dict):
        if part.get("contentMediaType") == "application/octet-stream":
            part.pop("contentMediaType")
            part["format"] = "binary"
        telling = part.get("discriminator", {})
        for reference in telling.get("mapping", {}).values() if isinstance(telling, dict) else ():
            known = parts[reference.rpartition("/")[2]]
            known["required"] = sorted({*known.get("required", ()), telling["propertyName"]})
        for each in list(part.values()):
            _say_more(each, parts)


def answer_problems(app: FastAPI) -> None:
    """Answer every fault with problem details, and say so in the description."""
    plain = app.openapi
    app.openapi = lambda: described(plain())  # type: ignore[method-assign]
    for kind, handler in (
        (SkeinworkError, _on_fault),
        (DamagedResultError, _on_damaged),
        (RequestValidationError, _on_invalid),
        (HTTPException, _on_refused),
        (OverflowError, _on_number),
        (OperationalError, _on_disk),
        (OSError, _on_disk),
    ):
        app.add_exception_handler(kind, handler)
