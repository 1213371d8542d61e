"""What is shipped: the wheel, the documents beside it, and the layers of the code."""

from __future__ import annotations

import ast
import json
import re
import subprocess
import sys
import zipfile
from collections.abc import Iterator
from graphlib import TopologicalSorter
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
SOURCES = sorted((ROOT / "skeinwork").rglob("*.py"))


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> zipfile.ZipFile:
    out = tmp_path_factory.mktemp("wheel")
    code = f"import hatchling.build as b; print(b.build_wheel({str(out)!r}))"
    subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=True, capture_output=True)
    return zipfile.ZipFile(next(out.glob("*.whl")))


def test_the_wheel_carries_interface_tables_and_bank(wheel: zipfile.ZipFile) -> None:
    names = set(wheel.namelist())
    assert "skeinwork/server/static/index.html" in names
    assert any(re.fullmatch(r"skeinwork/server/static/assets/index-.*\.js", name) for name in names)
    assert {"skeinwork/core/text/data/unicode_classes.npz", "skeinwork/core/text/data/stopwords_english.txt"} <= names
    assert sum(name.startswith("skeinwork/demo/bank/") for name in names) == 13
    assert not any(name.startswith(("tests/", "web/", "scripts/")) for name in names)


def test_the_wheel_names_its_command_and_licence(wheel: zipfile.ZipFile) -> None:
    folder = next(name.split("/")[0] for name in wheel.namelist() if ".dist-info/" in name)
    assert "skeinwork = skeinwork.cli:main" in wheel.read(f"{folder}/entry_points.txt").decode()
    metadata = wheel.read(f"{folder}/METADATA").decode()
    assert "License-Expression: MIT" in metadata
    required = {
        re.split(r"[ ;=<>!~\[]", line[15:])[0]
        for line in metadata.splitlines()
        if line.startswith("Requires-Dist: ") and "extra ==" not in line
    }
    assert required == {
        "bibtexparser",
        "fastapi",
        "lxml",
        "markdown-it-py",
        "llvmlite",
        "networkx",
        "numba",
        "numpy",
        "peewee",
        "platformdirs",
        "pyarrow",
        "pydantic",
        "pypdf",
        "python-calamine",
        "python-docx",
        "python-multipart",
        "pyyaml",
        "regex",
        "scipy",
        "selectolax",
        "uvicorn",
    }


def imported(path: Path) -> set[str]:
    """Top-level names of packages a file imports."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name.split(".")[0] for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module.split(".")[0])
    return found


def test_the_heart_is_our_own_code() -> None:
    """The core computes with arrays alone; only readers of files import what reads a file's kind."""
    allowed = {"numpy", "scipy", "numba", "llvmlite", "pydantic", "platformdirs", "regex", "skeinwork"} | set(
        sys.stdlib_module_names
    )
    readers = {
        "bibtexparser",
        "docx",
        "lxml",
        "markdown_it",
        "pyarrow",
        "pypdf",
        "python_calamine",
        "selectolax",
        "yaml",
    }
    for path in SOURCES:
        parts = path.relative_to(ROOT).parts
        if "core" in parts:
            assert imported(path) <= allowed | (readers if "formats" in parts else set()), path


def test_nothing_that_is_imported_is_unlisted() -> None:
    listed = (ROOT / "docs" / "dependencies.md").read_text()
    names = {
        "multipart": "python-multipart",
        "starlette": "fastapi",
        "docx": "python-docx",
        "yaml": "pyyaml",
        "markdown_it": "markdown-it-py",
        "python_calamine": "python-calamine",
    }
    for path in SOURCES:
        for name in imported(path) - set(sys.stdlib_module_names) - {"skeinwork"}:
            assert names.get(name, name) in listed, f"{name} in {path}"


def test_versions_are_pinned_and_no_registry_is_named() -> None:
    for line in (ROOT / "constraints.txt").read_text().splitlines():
        assert re.fullmatch(r"[A-Za-z0-9._-]+==[A-Za-z0-9.+!]+", line), line
    package = json.loads((ROOT / "web" / "package.json").read_text())
    for versions in (package["dependencies"], package["devDependencies"]):
        assert all(re.fullmatch(r"\d+\.\d+\.\d+", version) for version in versions.values())
    lock = (ROOT / "web" / "package-lock.json").read_text()
    assert "registry" not in lock
    assert '"resolved"' not in lock


def test_public_functions_of_the_core_are_described() -> None:
    for path in SOURCES:
        if "core" not in path.relative_to(ROOT).parts:
            continue
        tree = ast.parse(path.read_text(encoding="utf-8"))
        assert ast.get_docstring(tree) or not tree.body, path
        for node in tree.body:
            if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
                assert ast.get_docstring(node), f"{path.name}: {node.name}"


def test_examples_in_docstrings_hold() -> None:
    import doctest
    import importlib

    run = 0
    for path in SOURCES:
        if ">>>" in path.read_text(encoding="utf-8"):
            name = ".".join(path.relative_to(ROOT).with_suffix("").parts)
            found = doctest.testmod(importlib.import_module(name))
            assert found.failed == 0, name
            run += found.attempted
    assert run >= 5


def test_pictures_of_the_readme_are_there() -> None:
    readme = (ROOT / "README.md").read_text()
    linked = set(re.findall(r"docs/screenshots/([\w-]+\.png)", readme))
    kept = {path.name for path in (ROOT / "docs" / "screenshots").iterdir()}
    assert linked == kept
    assert len(kept) < 20
    for target in re.findall(r"\]\((docs/[^)#]+|CONTRIBUTING\.md)\)", readme):
        assert (ROOT / target).exists(), target


def test_files_stay_short() -> None:
    tests = sorted((ROOT / "tests").rglob("*.py"))
    front = [p for p in (ROOT / "web" / "src").rglob("*") if p.suffix in (".ts", ".vue") and p.name != "schema.ts"]
    for path in (*SOURCES, *front):
        lines = [line for line in path.read_text(encoding="utf-8").splitlines() if line.strip()]
        assert len(lines) <= 500, f"{path.name}: {len(lines)} lines"
    assert tests


def _imports(path: Path) -> Iterator[str]:
    """The modules of the package that a file imports, within functions too."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("skeinwork"):
            for name in node.names:
                inner = ROOT / f"{node.module}.{name.name}".replace(".", "/")
                a_module = inner.with_suffix(".py").exists() or (inner / "__init__.py").exists()
                yield f"{node.module}.{name.name}" if a_module else str(node.module)


def test_no_modules_import_each_other() -> None:
    arrows = {}
    for path in (ROOT / "skeinwork").rglob("*.py"):
        name = ".".join(path.relative_to(ROOT).with_suffix("").parts).removesuffix(".__init__")
        arrows[name] = set(_imports(path))
    assert sum(map(len, arrows.values())) > 1000
    TopologicalSorter(arrows).prepare()  # raises, naming a circle
