"""The style sheet, made from the token record."""

from __future__ import annotations

from brachium.core.figures.base.theme import SPACE, TYPE, Colours


def style_sheet(c: Colours) -> str:
    """Qt style sheet for one set of colours."""
    return f"""
* {{ font-family: "{TYPE.family}"; font-size: {TYPE.body}px; color: {c.ink}; }}
QMainWindow, QWidget#page, QScrollArea, QScrollArea > QWidget > QWidget#page {{ background: {c.film}; border: 0; }}
QToolTip {{ background: {c.sheet}; color: {c.ink}; border: 1px solid {c.hair}; padding: 4px 6px; }}
QLabel[role="clock"] {{ font-size: 56px; font-weight: 500; }}
QLabel[role="headline"] {{ font-size: {TYPE.headline}px; font-weight: 600; }}
QLabel[role="title"] {{ font-size: {TYPE.title}px; font-weight: 600; }}
QLabel[role="strong"] {{ font-weight: 600; }}
QLabel[role="large"] {{ font-size: {TYPE.strong + 1}px; }}
QLabel[role="step"] {{ font-size: 17px; font-weight: 500; }}
QLabel[role="bench title"] {{ font-size: 40px; font-weight: 600; }}
QLabel[role="bench clock"] {{ font-size: 40px; font-weight: 500; color: {c.soft}; }}
QLabel[role="step bench"] {{ font-size: 28px; font-weight: 500; }}
QLabel[role="soft bench"] {{ font-size: 24px; color: {c.soft}; }}
QLabel[role="alarm bench"] {{ font-size: 26px; font-weight: 500; color: {c.alarm}; }}
QLabel[role="warm bench"] {{ font-size: 24px; font-weight: 500; color: {c.warm}; }}
QLabel[role="section"] {{ font-size: {TYPE.strong}px; font-weight: 600; }}
QLabel[role="soft"] {{ color: {c.soft}; }}
QLabel[role="paper"] {{ border: 1px solid {c.hair}; }}
QLabel[role="field"] {{ color: {c.soft}; font-size: {TYPE.small}px; }}
QLabel[role="warm"] {{ color: {c.warm}; font-weight: 500; }}
QLabel[role="cool"] {{ color: {c.cool}; font-weight: 600; }}
QLabel[role="alarm"] {{ color: {c.alarm}; font-weight: 500; }}
QLineEdit, QPlainTextEdit, QComboBox {{ background: transparent; border: 0; border-bottom: 1px solid {c.edge};
  min-height: 31px; padding: 0 4px; selection-background-color: {c.cool_wash}; selection-color: {c.ink}; }}
QPlainTextEdit {{ border: 1px solid {c.edge}; border-radius: {SPACE.radius}px; padding: 4px; background: {c.sheet}; }}
QLineEdit:hover, QComboBox:hover {{ border-bottom-color: {c.soft}; }}
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus {{ border-bottom: 2px solid {c.cool}; background: {c.sheet}; }}
QLineEdit:disabled, QComboBox:disabled {{ color: {c.soft}; border-bottom-style: dotted; }}
QComboBox::drop-down {{ border: 0; width: 18px; }}
QComboBox QAbstractItemView {{ background: {c.sheet}; border: 1px solid {c.hair}; outline: 0;
  selection-background-color: {c.cool_wash}; selection-color: {c.ink}; padding: 4px; }}
QComboBox QAbstractItemView::item {{ min-height: {SPACE.target}px; }}
QPushButton {{ background: transparent; border: 1px solid {c.soft}; border-radius: {SPACE.radius}px;
  min-height: 30px; padding: 0 14px; font-weight: 500; }}
QPushButton:hover {{ background: {c.cool_wash}; border-color: {c.cool}; }}
QPushButton:focus {{ border: 2px solid {c.cool}; padding: 0 13px; }}
QPushButton:disabled {{ color: {c.soft}; border-color: {c.hair}; }}
QPushButton:checked {{ background: {c.cool_wash}; border-color: {c.cool}; color: {c.cool}; font-weight: 600; }}
QPushButton[kind="switch"] {{ padding: 0 10px; }}
QPushButton[kind="switch"]:focus {{ padding: 0 9px; }}
QPushButton[kind="primary"] {{ background: {c.cool}; border-color: {c.cool}; color: {c.on_cool}; font-weight: 600; }}
QPushButton[kind="primary"]:hover {{ background: {c.ink}; border-color: {c.ink}; color: {c.film}; }}
QPushButton[kind="primary"]:focus {{ border: 2px solid {c.ink}; }}
QPushButton[kind="primary"]:disabled {{ background: {c.grid}; border-color: {c.grid}; color: {c.soft}; }}
QPushButton[kind="trouble"] {{ border: 1px solid {c.warm}; color: {c.warm}; font-weight: 600; }}
QPushButton[kind="trouble"]:hover {{ background: {c.warm_wash}; border-color: {c.warm}; }}
QPushButton[kind="trouble"]:focus {{ border: 2px solid {c.warm}; }}
QPushButton[bench="true"] {{ font-size: 30px; min-height: 84px; font-weight: 600; }}
QPushButton[large="true"] {{ font-size: 17px; min-height: 50px; font-weight: 600; }}
QPushButton[kind="card"] {{ border: 0; border-left: 3px solid {c.hair}; border-radius: 0; text-align: left;
  padding: 6px 12px; min-height: 38px; }}
QPushButton[kind="card"]:hover {{ background: {c.cool_wash}; }}
QPushButton[kind="card"]:checked {{ background: {c.cool_wash}; border-left: 3px solid {c.cool}; color: {c.ink}; }}
QPushButton[kind="card"]:focus {{ border: 2px solid {c.cool}; padding: 5px 11px; }}
QPushButton[kind="big"] {{ background: {c.cool_wash}; border: 2px solid {c.cool}; color: {c.cool}; font-size: 24px;
  font-weight: 600; min-height: 96px; }}
QPushButton[kind="big"]:pressed {{ background: {c.cool}; color: {c.on_cool}; }}
QPushButton[kind="picture"] {{ border: 1px solid {c.hair}; padding: 0; min-height: 55px; }}
QPushButton[kind="picture"]:hover {{ border: 1px solid {c.cool}; }}
QPushButton[kind="picture"]:focus {{ border: 2px solid {c.cool}; }}
QTableWidget {{ background: {c.sheet}; border: 1px solid {c.hair}; gridline-color: {c.grid}; }}
QTableView::item {{ padding: 0 8px; border-bottom: 1px solid {c.grid}; }}
QTableView::item:selected {{ background: {c.cool_wash}; color: {c.ink}; }}
QHeaderView {{ background: {c.sheet}; }}
QHeaderView::section {{ background: {c.sheet}; color: {c.soft}; border: 0; border-bottom: 1px solid {c.hair};
  padding: 4px 11px; text-align: left; font-weight: 500; }}
QPushButton[kind="remark"] {{ border: 0; border-left: 3px solid {c.warm}; border-radius: 0; padding: 0 8px;
  text-align: left; color: {c.ink}; min-height: {SPACE.target}px; font-weight: 400; }}
QPushButton[kind="remark"]:hover {{ background: {c.cool_wash}; }}
QPushButton[kind="remark"]:focus {{ background: {c.cool_wash}; border-left: 3px solid {c.cool}; }}
QPushButton[kind="outcome"] {{ border: 0; min-height: {SPACE.target}px; padding: 0 6px; text-align: left;
  color: {c.ink}; }}
QPushButton[kind="outcome"]:hover {{ background: {c.cool_wash}; }}
QPushButton[kind="outcome"]:focus {{ border: 2px solid {c.cool}; padding: 0 4px; }}
QPushButton[kind="outcome"][outcome="NOT_TRIED"] {{ color: {c.soft}; }}
QPushButton[kind="outcome"][outcome="FAILS"] {{ color: {c.alarm}; font-weight: 600; }}
QPushButton[kind="quiet"] {{ min-height: {SPACE.target}px; border: 0; padding: 0 8px; color: {c.soft}; }}
QPushButton[kind="quiet"]:hover {{ color: {c.ink}; background: {c.cool_wash}; }}
QPushButton[kind="quiet"]:focus {{ border: 1px solid {c.cool}; padding: 0 7px; }}
QMenu {{ background: {c.sheet}; border: 1px solid {c.hair}; padding: 4px; }}
QMenu::item {{ padding: 7px 28px 7px 12px; border-radius: {SPACE.radius}px; }}
QMenu::item:selected {{ background: {c.cool_wash}; }}
QMenu::item:disabled {{ color: {c.soft}; }}
QMenu::separator {{ height: 1px; background: {c.hair}; margin: 4px 8px; }}
QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {c.hair}; min-height: 32px; border-radius: 4px; margin: 1px; }}
QScrollBar::handle:vertical:hover {{ background: {c.soft}; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QListView {{ background: {c.sheet}; border: 0; outline: 0; }}
QListWidget::item {{ min-height: 28px; padding: 0 6px; border-radius: {SPACE.radius}px; }}
QListWidget::item:selected {{ background: {c.cool_wash}; color: {c.ink}; }}
QDialog {{ background: {c.sheet}; border: 1px solid {c.hair}; }}
QDialog QScrollArea {{ background: transparent; }}
QDialog#bench {{ background: {c.film}; border: 0; }}
QTextBrowser {{ background: {c.sheet}; border: 1px solid {c.hair}; padding: 12px; }}
QCheckBox {{ min-height: {SPACE.target}px; spacing: 8px; }}
"""
