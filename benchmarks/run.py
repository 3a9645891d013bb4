"""`make bench`: measures speed and memory, prints them and writes docs/benchmarks.md."""

import os
import platform
import resource
import tempfile
from datetime import date
from pathlib import Path

os.environ["IRON_RAKE_VAR"] = tempfile.mkdtemp(prefix="iron-rake-bench-")
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings")
STATIC = Path(__file__).resolve().parent.parent / "var" / "static"


def memory_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def measure_core() -> list[str]:
    from benchmarks.core_speed import PLOTS, plans_per_second

    speeds = plans_per_second()
    return [
        "## The core",
        "",
        f"{PLOTS} made-up plots with 12 readings each, one process, best of 7 rounds. Aim: 2 000 a second or more for the core.",
        "",
        "| what | plans a second |",
        "|---|---|",
        f"| the core alone (`make_plan` on checked requests) | {speeds['core']:.0f} |",
        f"| with checking of each request | {speeds['checked']:.0f} |",
        f"| the whole door: JSON text in, JSON text with all working out | {speeds['door']:.0f} |",
        f"| the same without the steps, as `plan --many` writes them | {speeds['brief']:.0f} |",
        f"| the same by all processors (`plan --many`) | {speeds['processes']:.0f} |",
        f"| a topdressing from a leaf to its source | {speeds['topdress']:.0f} |",
        f"| what a plot's own tests show of its ground | {speeds['learned']:.0f} |",
        f"| a step of the symptom key | {speeds['diagnose']:.0f} |",
        f"| a year of the simulator | {speeds['year']:.0f} |",
        f"| findings, and the needs by all five schools | {speeds['schools']:.0f} |",
        f"| expected readings over five years by one school | {speeds['outlook']:.0f} |",
        f"| a plan whose bags are the best set for least money | {speeds['bags']:.0f} |",
        f"| what would sharpen the plan | {speeds['sharpen']:.0f} |",
        "",
        f"Findings and needs by all five schools for {PLOTS} plots take {PLOTS / speeds['schools']:.2f} s on one core. Aim: under 1 s.",
        "",
        f"Peak memory of the process after this: {memory_mb():.0f} MB.",
        "",
    ]


def measure_bags() -> list[str]:
    from benchmarks.bag_speed import HOLDINGS, ONE_BY_ONE, PLOTS, bags

    found = bags()
    rows = [
        f"| {aim} | {seconds:.2f} | {gap * 100:.1f} % | {saved * 100:.0f} % |" for aim, (seconds, gap, saved) in found["holding"].items()
    ]
    seconds, gap, saved = found["all materials"]
    one = ", ".join(f"{aim} {ms:.1f} ms" for aim, ms in found["one"].items())
    return [
        "## Choosing bags",
        "",
        f"One plot, median of {ONE_BY_ONE} made-up plots: {one}. Aim: under 50 ms.",
        "",
        (
            f"A holding of {PLOTS} plots in one go, whole bags shared, some stock; the worst of {HOLDINGS} made-up holdings. "
            f"Aim: under 5 s, "
            "gap at most 5 %."
        ),
        "",
        "| aim | seconds | widest gap to the optimum | saved beside every plot for itself (median) |",
        "|---|---|---|---|",
        *rows,
        f"| money, from all materials | {seconds:.2f} | {gap * 100:.1f} % | {saved * 100:.0f} % |",
        "",
        (
            "The same holdings as a sheet would reckon them (for each need the cheapest kilogram, then whole bags of the sums): "
            f"{found['spreadsheet'] * 1000:.0f} ms with reading the plots, and {found['spreadsheet dearer']:.2f} times the money, with no "
            "window kept."
        ),
        "",
    ]


def measure_pages() -> list[str]:
    import django
    from django.conf import settings

    settings.ROOT_URLCONF = "benchmarks.urls"
    settings.STATIC_ROOT = STATIC
    django.setup()
    from django.core.management import call_command
    from django.test import Client

    from benchmarks.page_speed import ROUNDS, medians
    from benchmarks.page_weight import weights
    from web.ground.models import Plot
    from web.overview.demo.loading import load

    call_command("migrate", verbosity=0)
    load(date.today())
    plot = Plot.objects.get(name="Long Border 7")
    client = Client()
    client.force_login(plot.holding.members.get(memberships__role="owner"))
    bench = f"/plans/plot/{plot.pk}/"
    addresses = {
        "a bare page, one query": "/bare/",
        "plot bench, made afresh": bench,
        "plot bench, unchanged since last time": bench,
        "ground, map and list, made afresh": "/ground/",
        "ground, map and list, unchanged": "/ground/",
        "today, unchanged": "/today/",
        "a working opened": f"{bench}working/dose-0/",
    }
    found = medians(client, addresses, afresh={"plot bench, made afresh", "ground, map and list, made afresh"})
    bare = found["a bare page, one query"]
    rows = [f"| {name} | {found[name]:.2f} | {found[name] / bare:.1f} |" for name in addresses]
    sent = weights(client, {"today": "/today/", "a plot's plan": bench, "ground, map and list": "/ground/", "jobs": "/jobs/"})
    heavy = [f"| {name} | {html / 1000:.1f} | {first / 1000:.0f} |" for name, (html, first) in sent.items()]
    return [
        "## Pages",
        "",
        (
            f"Server time in the process (Django's test client, whole middleware, SQLite file), medians of {ROUNDS} turns "
            f"taken in rotation. "
            "Aim: a plot's page within 3 times a bare page unchanged and 5 afresh, ground and today within 5."
        ),
        "",
        "| page | milliseconds | beside the bare page |",
        "|---|---|---|",
        *rows,
        "",
        "Over the wire, compressed as the server sends it. Aim: a first load of at most 250 kB, later pages at most 40 kB.",
        "",
        "| page | kB of HTML | kB with styles, scripts, drawings and fonts on a first visit |",
        "|---|---|---|",
        *heavy,
        "",
        f"Peak memory of the process after this: {memory_mb():.0f} MB.",
        "",
    ]


def measure_growth() -> list[str]:
    """The same pages on a holding of 20 plots and on one of 2 000, each alone in the database when it is measured."""
    from benchmarks.growth import SLIPS, grown_holding, jobs_page_of, pages_of

    few, many = jobs_page_of(50), jobs_page_of(5000)
    small = pages_of(grown_holding(20))
    big = pages_of(grown_holding(2000))
    rows = [
        (
            f"| {name} | {small[name]['ms']:.1f} | {big[name]['ms']:.1f} | {big[name]['ms'] / small[name]['ms']:.2f} | "
            f"{small[name]['queries']} | {big[name]['queries']} |"
        )
        for name in small
    ]
    return [
        "## Growth",
        "",
        (
            f"A holding of 20 plots with 2 000 readings beside one of 2 000 plots with 200 000 ({SLIPS} reports of ten lines each). Aim: a "
            "fixed number of queries, and at most 1.5 times the time."
        ),
        "",
        "| page | ms, 20 plots | ms, 2 000 plots | ratio | queries, 20 | queries, 2 000 |",
        "|---|---|---|---|---|---|",
        *rows,
        "",
        (
            f"The jobs page with 50 open jobs: {few['ms']:.1f} ms, {few['queries']} queries; with 5 000: {many['ms']:.1f} ms, "
            f"{many['queries']} queries, {many['ms'] / few['ms']:.2f} times. Aim: fixed queries, at most 1.5 times."
        ),
        "",
    ]


def measure_file_growth() -> list[str]:
    from benchmarks.file_growth import LARGE, SMALL, growth

    rows = [
        f"| {what} | {few:.2f} | {many:.2f} | {many / few:.1f} | {count / many:,.0f} |" for what, (few, many, count) in growth().items()
    ]
    return [
        "## How reading grows",
        "",
        f"Files of {SMALL} and of {LARGE} samples, four results each. Aim: in proportion, {LARGE / SMALL:.0f} times.",
        "",
        f"| container | s, {SMALL} | s, {LARGE} | times | readings a second |",
        "|---|---|---|---|---|",
        *rows,
        "",
    ]


def measure_file() -> list[str]:
    from benchmarks.file_speed import ROWS, read_in
    from web.people.models import Holding

    found = read_in(Holding.objects.get(name="20 plots"))
    return [
        "## A laboratory's file",
        "",
        f"{ROWS} rows of six readings as CSV, through the pages. Aim: under 5 seconds from the upload to the last report.",
        "",
        "| act | seconds |",
        "|---|---|",
        f"| uploaded | {found['taken']:.2f} |",
        f"| understood by the worker, and shown | {found['looked over']:.2f} |",
        f"| read in by the worker, with its pauses | {found['read in']:.2f} |",
        f"| taken out again as one act | {found['taken out']:.2f} |",
        "",
        f"Peak memory of the process after this: {memory_mb():.0f} MB.",
        "",
    ]


def main() -> None:
    head = [
        "# Benchmarks",
        "",
        "Made by `make bench`; every figure below was measured by that command.",
        "",
        (
            f"Machine: {os.cpu_count()} cores, Python {platform.python_version()}, {platform.system()}; on {date.today():%Y-%m-%d}. Other "
            "work may have shared it, so ratios say more than times."
        ),
        "",
    ]
    text = "\n".join(head + measure_core() + measure_bags() + measure_pages() + measure_growth() + measure_file() + measure_file_growth())
    (Path(__file__).resolve().parent.parent / "docs" / "benchmarks.md").write_text(text, encoding="utf-8")
    print(text)


if __name__ == "__main__":
    main()
