"""A data folder: database and files, checked for room to write before anything else."""

from __future__ import annotations

import tempfile
from pathlib import Path

from elvatch.core.document.suite import Suite
from elvatch.core.document.thing import Thing
from elvatch.core.ground.description import Ground
from elvatch.core.refusal import RefusalError
from elvatch.store.database import Database
from elvatch.store.drawn import DrawnShelf
from elvatch.store.files import Files
from elvatch.store.kept import Kept
from elvatch.store.lights import Lights
from elvatch.store.lock import clearing, opening
from elvatch.store.lookups import Lookups
from elvatch.store.made import GroundShelf
from elvatch.store.models import ModelShelf
from elvatch.store.presets import Presets
from elvatch.store.sites import SiteTable
from elvatch.store.snapshots import Snapshots
from elvatch.store.stock import Stock
from elvatch.store.strewn import StrewnShelf
from elvatch.store.surveys import Surveys
from elvatch.store.tray import Tray
from elvatch.store.upgrade import upgrade_sets
from elvatch.store.wall import Wall


class Store:
    """Everything that is kept.

    Parameters
    ----------
    folder : Path
        The data folder; made when missing.
    """

    def __init__(self, folder: Path) -> None:
        try:
            folder.mkdir(parents=True, exist_ok=True)
            with tempfile.TemporaryFile(dir=folder):
                pass
        except OSError as error:
            raise RefusalError(
                str(folder),
                error.strerror or "an error",
                "a data folder to write to",
                "choose another with --data",
            ) from None
        self.folder = folder
        # two that open a folder at once would both bring it up to date
        with opening(folder):
            self._open(folder)

    def _open(self, folder: Path) -> None:
        self.database = Database(folder / "elvatch.sqlite")
        self.files = Files(folder / "files", self.database)
        self.made = GroundShelf(folder / "made")
        self.surveys = Surveys(folder / "surveys")
        self.models = ModelShelf(folder / "models")
        self.strewn = StrewnShelf(folder / "strewn")
        self.drawn = DrawnShelf(folder / "overlays")
        self.lookups = Lookups(folder / "lookups")
        self.sites = SiteTable(self.database)
        self.snapshots = Snapshots(self.database)
        self.presets = Presets(self.database)
        self.lights = Lights(self.database)
        self.grounds = Kept(self.database, "ground", Ground)
        self.things = Kept(self.database, "thing", Thing)
        self.suites = Kept(self.database, "suite", Suite)
        self.stock = Stock(self.database, self.files, self.lookups)
        self.wall = Wall(self.database)
        self.tray = Tray(folder / "tray")
        upgrade_sets(self.database, self.files, self.stock)

    @property
    def packs(self) -> Path:
        """Where packs lie on their way in and out; cleared at each start."""
        folder = self.folder / "packs"
        folder.mkdir(exist_ok=True)
        return folder

    def sweep(self) -> bool:
        """Clear away what earlier processes left; return whether it could be done.

        Not while a command works on the folder: what it has brought in and not yet used would go.
        """
        lock = clearing(self.folder)
        if lock is None:
            return False
        with lock:
            for shelf in (self.made, self.surveys, self.models, self.strewn, self.drawn, self.lookups):
                shelf.sweep()
            self.tray.clear_all()
            self.files.collect()
            self.database.give_back()
        return True
