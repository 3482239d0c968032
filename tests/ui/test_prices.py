"""Parts and prices in the window: searched, typed over, a list read with a preview, refused, exported, undone."""

from __future__ import annotations

from decimal import Decimal
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from brachium.core.plan.candidates import CatalogueItem
from brachium.formats.catalogue import catalogue_text, read_catalogue
from brachium.formats.shop_documents import PRICE_LIST
from brachium.ui.pages.shop.prices_page import PricesPage
from tests.ui.conftest import Bench


def prices(bench: Bench) -> PricesPage:
    bench.window.run_command("prices")
    page = bench.window.shop_pages.page("prices")
    assert isinstance(page, PricesPage) and page.isVisible()
    return page


def item(bench: Bench, item_id: str) -> CatalogueItem:
    return next(i for i in bench.window.session.workspace.catalogue if i.id == item_id)


def test_a_price_is_typed_over_and_choose_follows(done: Bench) -> None:
    page = prices(done)
    QTest.keyClicks(page.search, "480 ssd")
    assert page.model.rowCount() == 1 and "1 found" in page._subline.text()
    model, cell = page.model, page.model.index(0, 2)
    assert model.data(cell) == "34" and model.setData(cell, "29,50")
    assert item(done, "ssd-480").price == Decimal("29.50")
    done.until(lambda: (v := done.window.session.view()) is not None and v.choice.cost.parts == Decimal("45.50"))
    assert not model.setData(cell, "cheap") and not model.setData(cell, "-3")
    assert item(done, "ssd-480").price == Decimal("29.50")
    done.window.run_command("undo")
    assert item(done, "ssd-480").price == Decimal("34")
    done.window.run_command("redo")
    assert item(done, "ssd-480").price == Decimal("29.50")


def test_a_list_is_read_with_a_preview_and_merged_by_id(
    done: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = prices(done)
    before = done.window.session.workspace.catalogue
    text = catalogue_text(before).replace("240 GB SATA SSD,22", "240 GB SATA SSD,18")
    (tmp_path / "list.csv").write_text(
        text + "pad,cleaning,Pads renewed,6,1,,,,,,,,,,,,,,fins and fan cleaned\nbad,drive,x,1\n"
    )
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(tmp_path / "list.csv"), ""))
    QTest.mouseClick(page.read_button, Qt.MouseButton.LeftButton)
    done.until(page.take.isVisible)
    assert page.words.text() == f"list.csv: 1 new, 1 changed, {len(before) - 1} as they are, 1 bad lines."
    assert page.bad.text().startswith(f"Left out: line {len(before) + 3}: ")
    assert done.window.session.workspace.catalogue == before, "nothing changes before it is taken over"
    QTest.mouseClick(page.take, Qt.MouseButton.LeftButton)
    done.until(lambda: len(done.window.session.workspace.catalogue) == len(before) + 1)
    assert item(done, "ssd-240").price == Decimal("18") and not page.take.isVisible()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "out.csv"), ""))
    QTest.mouseClick(page.export_button, Qt.MouseButton.LeftButton)
    read = read_catalogue((tmp_path / "out.csv").read_text(), "out.csv")
    assert read is not None and read.items == done.window.session.workspace.catalogue
    done.window.session.workspace.lanes.drain("store")
    kept = done.window.session.workspace.kept(PRICE_LIST)
    assert kept == read.items, "it is there at the next start"


NO_LISTS = (
    (b"id,group\n1,2\n", "columns are missing: title, price_eur"), (b"\xff\xfe\x00", "no text in UTF-8"),
    (None, "no such file"),
)  # fmt: skip


@pytest.mark.parametrize(("content", "says"), NO_LISTS)
def test_files_that_are_no_price_list_are_refused(
    done: Bench, tmp_path: Path, content: bytes | None, says: str
) -> None:
    page = prices(done)
    if content is not None:
        (tmp_path / "list.csv").write_bytes(content)
    page.read(tmp_path / "list.csv")
    done.until(lambda: says in " ".join(done.window.next.texts()))
    assert not page.take.isVisible() and not page.stop.isVisible()


def test_the_columns_follow_the_kind_and_what_fits_waiting_machines_is_counted(whole: Bench) -> None:
    page = prices(whole)
    whole.until(lambda: page._fits.machines > 2)
    titles = [page.model.headerData(k, Qt.Orientation.Horizontal) for k in range(page.model.columnCount())]
    assert titles == ["Part or work", "Kind", "Price, EUR", "Offers", "Fits waiting", "Id"]
    rows = {i.id: k for k, i in enumerate(page.model.rows)}
    sodimm, tower = (page.model.index(rows[i], 4).data() for i in ("mem-4-l", "mem-8-15v"))
    assert sodimm != tower and all(f" of {page._fits.machines}" in str(x) for x in (sodimm, tower))
    page.kind.setCurrentIndex(page.kind.findData("memory"))
    page.kind.activated.emit(page.kind.currentIndex())
    titles = [page.model.headerData(k, Qt.Orientation.Horizontal) for k in range(page.model.columnCount())]
    assert "Size, GiB" in titles and "Kind" not in titles and all(i.group == "memory" for i in page.model.rows)
    assert page.model.index(0, titles.index("Size, GiB")).data() == "4"
    for k in range(page.model.columnCount()):
        head = page.model.headerData(k, Qt.Orientation.Horizontal, Qt.ItemDataRole.TextAlignmentRole)
        assert head == page.model.index(0, k).data(Qt.ItemDataRole.TextAlignmentRole), "headings stand over their cells"
