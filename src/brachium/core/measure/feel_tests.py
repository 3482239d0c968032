"""Tests of what the owner feels: everyday tasks with where their seconds went, the memory ladder, graphics."""

from __future__ import annotations

from brachium.core.measure.run import TestSpec

EVERYDAY_TESTS: tuple[TestSpec, ...] = (
    TestSpec("task_start_cold", "Start a large program, cold", "s", False, 1,
             "its 1 800 files come from the drive: the file cache of them was dropped"),
    TestSpec("task_start_warm", "Start a large program, warm", "s", False, 1, "its files are in memory already"),
    TestSpec("task_files", "Unpack and walk 5 000 files", "s", False, 1,
             "an archive of small files unpacked, flushed, dropped from memory and read again"),
    TestSpec("task_database", "2 000 saves of a database", "s", False, 1,
             "each of them flushed to the drive before the next"),
    TestSpec("task_compress", "Compress and restore a folder", "s", False, 1, "24 MiB, by the DEFLATE method"),
    TestSpec("task_photos", "Scale a set of photos", "s", False, 1, "eight JPEG pictures of six megapixels"),
    TestSpec("task_sheet", "Open and save a large sheet", "s", False, 1, "50 000 cells of an Office Open XML workbook"),
    TestSpec("task_together", "Several at once beside a video", "s", False, 1,
             "compressing, photos and a sheet at once, while 25 pictures a second have to come in time"),
)  # fmt: skip
LADDER_TEST = TestSpec("ladder", "Task held to less memory", "s", False, 1,
                       "one task on a file of 256 MiB with enough memory; by memory on its curve")  # fmt: skip
GRAPHICS_TESTS: tuple[TestSpec, ...] = (
    TestSpec("gpu_fill", "Graphics, filling", "Gpixel/s", True, 1, "blended layers over 1920x1080"),
    TestSpec("gpu_texture", "Graphics, textures", "Gsample/s", True, 1, "samples that follow from each other"),
    TestSpec("gpu_arithmetic", "Graphics, arithmetic", "Gop/s", True, 1, "multiply and add in every picture element"),
    TestSpec("gpu_geometry", "Graphics, small triangles", "Mtriangle/s", True, 1, "half a million of them a picture"),
    TestSpec("frames_720", "Drawn scene at 1280x720", "frames/s", True, 1,
             "a landscape under mist for a minute; the slowest pictures stand beside it"),
    TestSpec("frames_1080", "Drawn scene at 1920x1080", "frames/s", True, 1,
             "a landscape under mist for a minute; the slowest pictures stand beside it"),
    TestSpec("gpu_memory", "Graphics, textures in use", "1/s", True, 1,
             "textures drawn from in turn; by their size on its curve, which falls where the graphics memory ends"),
    TestSpec("heat_graphics", "Graphics load, five minutes", "frames/s", True, 1,
             "the scene at 1920x1080 after two minutes of rest; heat of the graphics chip alone"),
    TestSpec("heat_both", "Processor and graphics, five minutes", "work/s", True, 1,
             "all threads beside the scene after two minutes of rest; heat of both chips together"),
    TestSpec("soft_scene", "Drawn scene, without a graphics chip", "frames/s", True, 1,
             "1280x720 drawn by the processor, since no driver of a graphics chip is at work; never compared with one"),
)  # fmt: skip
EVERYDAY = tuple(t.key for t in EVERYDAY_TESTS)
LADDER = LADDER_TEST.key
GRAPHICS = tuple(t.key for t in GRAPHICS_TESTS)
FEEL_TESTS = (*EVERYDAY_TESTS, LADDER_TEST, *GRAPHICS_TESTS)
HEAT_REST_S, HEAT_LOAD_S = 120.0, 300.0
HEAT = ("heat_graphics", "heat_both")
ONCE = (LADDER, "frames_720", "frames_1080", "gpu_memory", "soft_scene", *HEAT)  # long ones, done once a session
SCENE_S, QUICK_SCENE_S = 60.0, 12.0
WHERE = ("processor", "storage", "paging", "other")  # where the seconds of a task went
SPLIT_WITHIN = 0.03  # of the whole that the parts of a task may miss; more is said
