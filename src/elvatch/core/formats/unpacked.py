"""A small zip from outside, unpacked in memory: names are text only, and nothing larger than it says."""

from __future__ import annotations

import io
import zipfile

from elvatch.core.refusal import RefusalError

MOST_FILES = 200
MOST_TOTAL = 1 << 30
MOST_RATIO = 250
_RATIO_FROM = 64 << 20


def files_of(name: str, data: bytes) -> dict[str, bytes]:
    """Return the files of a zip by their path.

    Raises
    ------
    RefusalError
        When there are too many, or they unpack to too much, or a path leaves its folder, or it cannot be read.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = [entry for entry in archive.infolist() if not entry.is_dir()]
            total = sum(entry.file_size for entry in entries)
            packed = sum(entry.compress_size for entry in entries)
            if len(entries) > MOST_FILES:
                raise RefusalError(name, f"{len(entries)} files", f"at most {MOST_FILES}", "pack fewer")
            if total > MOST_TOTAL or (total > _RATIO_FROM and total > MOST_RATIO * max(packed, 1)):
                raise RefusalError(
                    name, f"{total >> 20:,} MB when unpacked", f"at most {MOST_TOTAL >> 20:,} MB", "pack less"
                )
            for entry in entries:
                path = entry.filename.replace("\\", "/")
                if path.startswith("/") or ".." in path.split("/") or ":" in path:
                    raise RefusalError(
                        name, f"a path that leaves its folder ({path[:60]})", "plain paths", "pack anew"
                    )
            out = {}
            for entry in entries:
                with archive.open(entry) as stream:
                    content = stream.read(entry.file_size + 1)
                if len(content) > entry.file_size:
                    raise RefusalError(name, "a file larger than it says", "a whole zip", "pack it again")
                out[entry.filename.replace("\\", "/")] = content
            return out
    except RefusalError:
        raise
    except Exception as error:  # each way of packing has errors of its own
        found = f"an archive that cannot be read ({' '.join(str(error).split())[:80]})"
        raise RefusalError(name, found, "a whole zip without a password", "pack it again") from None
