from PySide6.QtTest import QTest
from brachium.core.record.job import Stage
from brachium.ui.theme import theme
from tests.ui.conftest import Bench
from tests.ui.test_day_and_work import at_work
from tests.ui.test_typed_only import taken_in

def test_pics(whole: Bench) -> None:
    at_work(whole)
    w=whole.window; w.resize(1280,800); w.show(); QTest.qWait(300)
    page=w.pages[Stage.WORK]
    page.tick(); whole.settled(); page.tick(); whole.settled()
    page.steps.choose("open"); QTest.qWait(100); w.grab().save("/tmp/pc/w1.png")
    w.set_dark(True); page.steps.choose("paste"); QTest.qWait(100); w.grab().save("/tmp/pc/w2.png")
    page.steps.choose("first-start"); QTest.qWait(100); w.grab().save("/tmp/pc/w3.png")
    b=page.bench_mode(); b.resize(1280,800); QTest.qWait(200); b.grab().save("/tmp/pc/w5.png"); b.close(); w.set_dark(False)

def test_done(done: Bench) -> None:
    w=done.window; w.resize(1280,800); w.show(); 
    done.window.session.select_stage(Stage.WORK); done.settled(); QTest.qWait(300)
    page=w.pages[Stage.WORK]
    w.grab().save("/tmp/pc/d1.png")
    page.steps.choose("memory"); QTest.qWait(100); w.grab().save("/tmp/pc/d2.png")
    page.steps.choose("clone"); QTest.qWait(100); w.grab().save("/tmp/pc/d3.png")
