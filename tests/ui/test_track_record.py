"""The track record in the window: jobs handed over as points, kinds that rarely pay, the correction switched."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from brachium.app.shop.reading import ASIDE
from brachium.app.shop.shop_record import correction_for, outcomes_of
from brachium.core.record.correction import NONE
from brachium.core.record.job import Stage
from brachium.formats.shop_documents import OUTCOMES
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from brachium.ui.pages.shop.track_record_page import TrackRecordPage
from tests.core.learn.test_correction import Shop
from tests.ui.conftest import Bench


def test_the_record_is_shown_and_corrects_what_is_foretold_until_it_is_switched_off(done: Bench) -> None:
    window, session = done.window, done.window.session
    workspace = session.workspace
    window.run_command("track")
    page = window.findChild(TrackRecordPage)
    assert isinstance(page, TrackRecordPage) and "Nothing yet" in page._subline.text()
    shop = Shop(np.random.default_rng(3), True)
    shop.bias = dict.fromkeys(shop.bias, -0.12)
    jobs = tuple(replace(shop.job(k), name=f"Job {k}") for k in range(40))
    plain = session.view()
    assert plain is not None and plain.choice.prediction is not None
    workspace.keep(OUTCOMES, jobs)
    assert outcomes_of(workspace) == jobs, "they come back as they went"
    page.show_shop()
    workspace.refresh(session.job_id)
    done.until(lambda: session.view() is not plain)
    moved = session.view()
    assert moved is not None and moved.choice.prediction is not None and moved.choice.uncorrected is not None
    assert moved.choice.prediction.band.mid < moved.choice.uncorrected.band.mid == plain.choice.prediction.band.mid
    assert moved.choice.weighed is not None and plain.choice.weighed is not None
    assert max(p.gain for p in moved.choice.weighed.front.plans) < max(p.gain for p in plain.choice.weighed.front.plans)
    assert len([r for r in page.plot.regions() if r.id.startswith("job:")]) == 40
    assert "of 40 gains lie in their band" in page._headline.text()
    texts = [w.text() for w in page.findChildren(QLabel)]
    assert "drive" in texts and any("% more" in t for t in texts)
    done.click_region(page.plot, "job:j7")
    because = window.because.because()
    assert because is not None and because.title == "Job 7"
    QTest.mouseClick(page.correct.buttons["off"], Qt.MouseButton.LeftButton)
    assert correction_for(workspace) is NONE
    done.until(lambda: (v := session.view()) is not None and v.choice.prediction == plain.choice.prediction)


def test_a_record_that_cannot_be_read_is_put_aside_and_said(done: Bench) -> None:
    window, workspace = done.window, done.window.session.workspace
    workspace.save_setting(OUTCOMES.key, '[{"job_id": 7')
    window.run_command("track")
    page = window.findChild(TrackRecordPage)
    assert isinstance(page, TrackRecordPage) and "kept aside" in page._subline.text()
    done.click_stage(Stage.HAND_OVER)
    hand_over = window.pages[Stage.HAND_OVER]
    assert isinstance(hand_over, HandOverPage)
    QTest.mouseClick(hand_over.hand, Qt.MouseButton.LeftButton)
    done.settled()
    assert [o.job_id for o in outcomes_of(workspace)] == [done.job().id]
    assert workspace.setting(f"{OUTCOMES.key}{ASIDE}") == '[{"job_id": 7', "nothing that was stored is lost"
