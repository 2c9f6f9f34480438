"""Writing the sizes of a nest: each as a project, and printed or drawn."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from caddet.core.files.writing import write_whole
from caddet.core.formats.export import export_bytes
from caddet.core.formats.project import Pictures, save_project
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document
from caddet.desk.tasks import Task


def export_sizes(
    sizes: Sequence[tuple[str, Document]], folder: Path, ending: str, pictures: Pictures, task: Task
) -> int:
    """Write each size with the project's photographs; how many were written before it was left. Raises :class:`CaddetError` when a file can't be."""
    for number, (name, document) in enumerate(sizes, 1):
        if task.cancelled:
            return number - 1
        plain = "".join(c if c.isalnum() or c in "-_" else "-" for c in name)
        save_project(document, folder / f"{plain}.caddet", pictures)
        write_whole(folder / f"{plain}{ending}", export_bytes(make(EvaluateRequest(document)), ending))
        task.report(number)
    return len(sizes)
