"""What a window is made of, in one import: loaded in a thread while the outline of the window stands."""

from brachium.app.shop import open_shop as open_shop
from brachium.ui import window_language as window_language
from brachium.ui.shell import window as window
