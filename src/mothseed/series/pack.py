"""A series in one file, for sharing: pictures, source, ledger, and the versions of what made them."""

from __future__ import annotations

import platform
import re
import zipfile
from collections.abc import Iterable, Mapping
from importlib.metadata import PackageNotFoundError, requires, version
from pathlib import Path, PurePosixPath
from typing import Any

from mothseed._version import VERSION
from mothseed.faults import PictureError
from mothseed.files import content_hash, read_ordinary, written_whole
from mothseed.layout import CONTACT_NAME, LEDGER_NAME, MANIFEST_NAME, SOURCE_FOLDER
from mothseed.records import RecordError, as_json, from_json
from mothseed.series.edition import Edition

_STORED = {".png", ".webp", ".jpg", ".jpeg", ".pdf"}
"""Suffixes of files that are compressed already."""
_DATE = (1980, 1, 1, 0, 0, 0)
"""Time of all files in a pack, so that a series always gives the same pack; the real times are in the ledger."""
_LARGEST_MANIFEST = 64_000_000


def write_pack(folder: Path, editions: Iterable[Edition], output: Path, more: Mapping[str, bytes]) -> int:
    """Write a series as a ZIP file with one folder in it, whole or not at all; returns how many files it has. `more` holds
    extra files by name. A manifest lists the hash of each file and the versions of the software. Raises PictureError if a
    picture cannot be read, FileError if the pack cannot be written.
    """
    top = folder.resolve().name
    hashes: dict[str, str] = {}
    with written_whole(output) as part, zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in _contents(folder, editions, more):
            hashes[name] = content_hash(content)
            _add(archive, f"{top}/{name}", content)
        manifest = {"mothseed": VERSION, "made_with": environment(), "files": hashes}
        _add(archive, f"{top}/{MANIFEST_NAME}", as_json(manifest, sorted_names=True).encode() + b"\n")
    return len(hashes) + 1


def _add(archive: zipfile.ZipFile, name: str, content: bytes) -> None:
    entry = zipfile.ZipInfo(name, _DATE)
    entry.compress_type = zipfile.ZIP_STORED if Path(name).suffix.lower() in _STORED else zipfile.ZIP_DEFLATED
    entry.external_attr = 0o644 << 16
    archive.writestr(entry, content)


def _contents(folder: Path, editions: Iterable[Edition], more: Mapping[str, bytes]) -> Iterable[tuple[str, bytes]]:
    """The files of a series by their path in it."""
    source = folder / SOURCE_FOLDER
    inside = sorted(path for path in source.rglob("*") if path.is_file() and not path.is_symlink()) if source.is_dir() else []
    names = [LEDGER_NAME, *(path.relative_to(folder).as_posix() for path in inside if "__pycache__" not in path.parts)]
    names += [CONTACT_NAME] if (folder / CONTACT_NAME).is_file() else []
    names += [name for edition in editions if not edition.failed for name in (edition.file, *edition.files)]
    for name in names:
        try:
            yield name, read_ordinary(folder / name)
        except OSError as fault:
            hint = f"look at it with mothseed verify {folder}"
            raise PictureError(f"{folder / name} cannot be read: {fault.strerror or fault}", hint=hint) from None
    yield from more.items()


def environment() -> dict[str, Any]:
    """The software that makes pictures on this machine: versions of Python and of what Moth Seed uses."""
    needed = [requirement for requirement in requires("mothseed") or () if "extra ==" not in requirement]
    packages = {}
    for name in re.findall(r"^[\w.-]+", "\n".join(needed), re.MULTILINE):
        try:
            packages[name] = version(name)
        except PackageNotFoundError:  # installed some other way
            packages[name] = ""
    return {"python": platform.python_version(), "system": platform.platform(), "packages": packages}


def manifest_of(folder: Path) -> dict[str, str] | None:
    """The hash of each file of an unpacked pack, by its path in the folder; None if the folder is not one. Raises RecordError
    for an invalid manifest, which may come from anybody.
    """
    path = folder / MANIFEST_NAME
    if path.is_symlink() or not path.is_file():
        return None
    if path.stat().st_size > _LARGEST_MANIFEST:
        raise RecordError(f"{path} is too large for a manifest")
    try:
        plain = from_json(read_ordinary(path).decode())
    except (OSError, UnicodeDecodeError):
        raise RecordError(f"{path} cannot be read") from None
    files = plain.get("files") if isinstance(plain, dict) else None
    if not isinstance(files, dict) or not all(isinstance(digest, str) and _is_inside(name) for name, digest in files.items()):
        raise RecordError(f"{path} is not the manifest of a pack")
    return files


def _is_inside(name: str) -> bool:
    place = PurePosixPath(name)
    return bool(place.parts) and not place.is_absolute() and ".." not in place.parts and "\\" not in name and "\0" not in name
