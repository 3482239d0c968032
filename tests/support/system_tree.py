"""A machine's system tree in a folder: laptop with sensors, energy counter, throttle counters, two drives."""

from __future__ import annotations

from pathlib import Path

from brachium_probe.startup import RECORD
from tests.support.firmware_tables import entry_3, laptop_tables, spd_ddr3

BTIME = 1_795_000_000
STAT = f"cpu  {{user}} 0 {{system}} {{idle}} {{iowait}} 0 0 {{steal}} 0 0\ncpu0 0 0 0 0 0 0 0 0 0 0\nbtime {BTIME}\n"
LOADER = "sys/firmware/efi/efivars/LoaderTimeExecUSec-1"
DISK = "   8       0 sda 100 0 {read} 50 10 0 {written} 20 0 {busy} 70\n"
DISK_20 = "   8      16 sdb 100 0 {read} 50 10 0 {written} 20 0 {busy} 70 1 2 3 4 5 6\n"
PRESSURE = "some avg10=0.00 avg60=0.00 avg300=0.00 total={some}\nfull avg10=0.00 avg60=0.00 avg300=0.00 total={full}\n"


def loader_stamp(microseconds: int) -> bytes:
    return b"\x06\x00\x00\x00" + f"{microseconds}\x00".encode("utf-16-le")


def utmp(system: float, ready: float) -> bytes:
    """Records of a start: user space at `system`, run level at `ready`, a sign-in later [s after the kernel]."""

    def record(kind: int, at: float) -> bytes:
        whole, parts = divmod(round((BTIME + at) * 1e6), 1_000_000)
        return RECORD.pack(kind, 0, b"~", b"~~", b"reboot", b"6.1", 0, 0, 0, whole, parts, b"", b"")

    return record(2, system) + record(1, ready) + record(7, ready + 40.0)


class SystemTree:
    """Writes below a root what a kernel would show there."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def put(self, name: str, text: object) -> None:
        path = self.root / name.lstrip("/")
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(f"{text}\n")

    def started(self, before_kernel_s: float, system_s: float) -> None:
        """Traces of a start: what the loader stamped, and when the run level was reached."""
        for name, data in ((LOADER, loader_stamp(round(before_kernel_s * 1e6))), ("run/utmp", utmp(3.0, system_s))):
            path = self.root / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(data)

    def sensor(self, number: int, chip: str, label: str, milli_c: int, crit: int | None = None, index: int = 1) -> None:
        folder = f"/sys/class/hwmon/hwmon{number}"
        self.put(f"{folder}/name", chip)
        self.put(f"{folder}/temp{index}_input", milli_c)
        self.put(f"{folder}/temp{index}_label", label)
        if crit is not None:
            self.put(f"{folder}/temp{index}_crit", crit)

    def processor(self, user: int, system: int, idle: int, iowait: int = 0, steal: int = 0) -> None:
        """Ticks since the start, all processors together."""
        self.put("/proc/stat", STAT.format(user=user, system=system, idle=idle, iowait=iowait, steal=steal))

    def disk(self, busy_ms: int, read: int = 0, written: int = 0) -> None:
        line = DISK.format(read=read, written=written, busy=busy_ms)
        self.put("/proc/diskstats", line + DISK_20.format(read=0, written=0, busy=0) + "   7 0 loop0 0 0 0\n")

    def pressure(self, some_us: int, full_us: int) -> None:
        for name in ("cpu", "io", "memory"):
            self.put(f"/proc/pressure/{name}", PRESSURE.format(some=some_us, full=full_us))

    def energy(self, microjoule: int) -> None:
        self.put("/sys/class/powercap/intel-rapl:0/energy_uj", microjoule)


def laptop(root: Path) -> SystemTree:
    """Four threads on two cores, warm, calm; every kind of reading there, traps included."""
    t = SystemTree(root)
    t.sensor(0, "acpitz", "temp 1", 27_800)
    t.sensor(3, "coretemp", "Core 0", 61_000, 100_000, 2)
    t.sensor(3, "coretemp", "Package id 0", 63_000, 100_000, 1)
    t.sensor(4, "nvme", "Composite", 41_850, 84_850)
    t.sensor(5, "boardchip", "AUXTIN", -44_000, -273_150)
    t.put("/sys/class/hwmon/hwmon5/fan1_input", 0)
    t.put("/sys/class/hwmon/hwmon5/fan2_input", 2450)
    for cpu in range(4):
        folder = f"/sys/devices/system/cpu/cpu{cpu}"
        t.put(f"{folder}/topology/physical_package_id", 0)
        t.put(f"{folder}/topology/core_id", cpu // 2)
        t.put(f"{folder}/thermal_throttle/core_throttle_count", 2 + cpu // 2)
        t.put(f"{folder}/thermal_throttle/package_throttle_count", 7)
        t.put(f"{folder}/cpufreq/scaling_cur_freq", 2_000_000 + 100_000 * cpu)
    t.put("/sys/class/powercap/intel-rapl:0/name", "package-0")
    t.put("/sys/class/powercap/intel-rapl:0/max_energy_range_uj", 262_143_328_850)
    t.put("/sys/class/powercap/intel-rapl:0:0/name", "core")
    t.put("/sys/class/powercap/intel-rapl:0:0/energy_uj", 999_999_999)
    t.energy(1_000_000)
    t.put("/proc/meminfo", "MemTotal:        8000000 kB\nMemFree:          500000 kB\nMemAvailable:    6000000 kB")
    t.processor(1000, 200, 50_000)
    t.disk(1000)
    t.put("/sys/block/sda/size", 1)
    t.put("/sys/block/sdb/size", 1)
    t.put("/sys/block/loop0/size", 1)
    t.pressure(1_000_000, 400_000)
    t.put("/proc/cpuinfo", "model name\t: Kestrion M4-35\n")
    t.put("/proc/sys/kernel/random/boot_id", "boot-1")
    t.put("/proc/sys/kernel/osrelease", "6.1.0")
    t.put("/etc/os-release", 'PRETTY_NAME="Linux on a stick"')
    t.put("/proc/mounts", "overlay / overlay rw 0 0")
    return t


def scanned_laptop(folder: Path) -> SystemTree:
    """A whole laptop: tables, modules, a drive on a slow link, battery, firmware mode."""
    t = laptop(folder)
    table = laptop_tables()
    tables = folder / "sys/firmware/dmi/tables"
    tables.mkdir(parents=True)
    (tables / "DMI").write_bytes(table)
    (tables / "smbios_entry_point").write_bytes(entry_3(table))
    eeprom = folder / "sys/bus/i2c/devices/0-0050"
    eeprom.mkdir(parents=True)
    (eeprom / "eeprom").write_bytes(spd_ddr3())
    device = folder / "sys/devices/pci0/ata1/host0/block/sda"
    (device / "queue").mkdir(parents=True)
    (folder / "sys/block/sda/size").unlink()
    (folder / "sys/block/sda").rmdir()
    (folder / "sys/block/sda").symlink_to(device)
    t.put("/sys/block/sda/size", 976_773_168)
    t.put("/sys/block/sda/queue/rotational", 1)
    t.put("/sys/class/ata_link/link1/sata_spd", "3.0 Gbps")
    words = ["0000"] * 256
    for k, pair in enumerate(("Sa", "nd", "pi", "pe", "r ", "50", "0 ")):
        words[27 + k] = pair.encode().hex()
    words[76], words[217] = "000e", "1518"
    t.put("/sys/class/ata_device/dev1.0/id", " ".join(words))
    (folder / "sys/firmware/efi/efivars").mkdir(parents=True)
    (folder / "sys/firmware/efi/efivars/SecureBoot-1").write_bytes(b"\x06\x00\x00\x00\x01")
    bat = "/sys/class/power_supply/BAT0"
    for name, value in (
        ("type", "Battery"),
        ("present", 1),
        ("energy_full", 30_800_000),
        ("energy_full_design", 44_000_000),
        ("cycle_count", 0),
    ):
        t.put(f"{bat}/{name}", value)
    return t
