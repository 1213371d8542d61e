"""Write docs/openapi.json and the schemas of our own files; ``--check`` fails when they are stale."""

import json
import sys
from pathlib import Path

from skeinwork.server.app import make_app
from skeinwork.work.exports.pattern import schema
from skeinwork.work.strands.skein_file import SkeinRecord
from skeinwork.work.topics.model_file import Model

DOCS = Path(__file__).parent.parent / "docs"


def main() -> int:
    stale = 0
    for name, value in (
        ("openapi.json", make_app(None).openapi()),
        ("pattern.schema.json", schema()),
        ("model.schema.json", Model.model_json_schema()),
        ("skein.schema.json", SkeinRecord.model_json_schema()),
    ):
        text = json.dumps(value, indent=1, ensure_ascii=False) + "\n"
        path = DOCS / name
        if "--check" in sys.argv:
            if not path.exists() or path.read_text(encoding="utf-8") != text:
                print(f"docs/{name} is stale: run make client")
                stale = 1
        else:
            path.write_text(text, encoding="utf-8")
    return stale


if __name__ == "__main__":
    sys.exit(main())
