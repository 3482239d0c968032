"""`brachium fit`, `causes`, `plans`, `steps`, `next`: what the window shows of a job, for people and programs."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.common import Shop, app, job_of, open_workspace, print_problem, say_json

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView

Job = Annotated[str, typer.Option(help="Job in that shop; may be left out where there is only one.")]
Json = Annotated[bool, typer.Option("--json", help="For programs: docs/formats/answers.md.")]


@contextmanager
def _view(shop: str, job: str) -> Iterator[JobView]:
    """One job of a shop, computed. Raises ExpectedProblem where there is none."""
    with print_problem():
        workspace = open_workspace(shop)
        try:
            yield workspace.compute_now(job_of(workspace, job))
        finally:
            workspace.close()


Slot = Annotated[str, typer.Option("--slot", "--place", metavar="SLOT", help="Where it is to go; else the likeliest.")]


@app.command()
def fit(
    shop: Shop = "", job: Job = "",
    part: Annotated[str, typer.Option(help="Its label, or quick words: '4GB PC3L-12800S', '500gb 2.5 ssd'.")] = "",
    place: Slot = "",
    as_json: Json = False,
) -> None:  # fmt: skip
    """Whether a machine, its plan, or a part in it fits; needs no measurement."""
    with _view(shop, job) as view:
        from brachium.app.view.fit_answer import fit_of_machine, fit_of_part
        from brachium.core.base.problems import ExpectedProblem
        from brachium.formats.answers.fit_json import LEVELS, fit_values

        try:
            answer = fit_of_part(view, part, place) if part else fit_of_machine(view)
        except KeyError as error:
            known = [s.label for s in view.job.machine.slots] + [b.label for b in view.job.machine.bays]
            what = f"the machine has no slot {place!r}"
            raise ExpectedProblem(what, "--slot", f"It has {', '.join(known) or 'none recorded'}.") from error
        if as_json:
            say_json(
                fit_values(
                    view.job.id,
                    answer.level,
                    answer.verdicts,
                    answer.asked,
                    answer.candidate,
                    answer.lacks,
                    answer.elsewhere,
                )
            )
            return
        where = f" in {answer.candidate.where}" if answer.candidate is not None and answer.candidate.where else ""
        typer.echo(f"{LEVELS[answer.level].replace('_', ' ')}{where}")
        for words in (*([answer.lacks] if answer.lacks else []), *(answer.asked.as_place if answer.asked else ())):
            typer.echo(f"  {words}")
        for verdict in answer.verdicts:
            gap = f"; {verdict.gap.how}, {verdict.gap.minutes:g} min" if verdict.gap is not None else ""
            typer.echo(f"  {verdict.level.words:12} {verdict.rule:12} {verdict.sentence}{gap}")


@app.command()
def causes(shop: Shop = "", job: Job = "", as_json: Json = False) -> None:
    """What holds a machine back, or keeps it from starting, with the evidence and the next check."""
    with _view(shop, job) as view:
        from brachium.core.cause.assess import strength
        from brachium.formats.answers.job_json import causes_values

        found = view.causes.in_front
        if as_json:
            say_json(causes_values(view.job.id, found))
            return
        typer.echo(found.headline)
        for cause in found.open:
            typer.echo(f"  {strength(cause):9} {100 * cause.chance:3.0f} %  {cause.kind.title}")
        if found.next is not None:
            typer.echo(f"  next check: {found.next.check.title}, {found.next.check.attended_min:g} min")


@app.command()
def plans(shop: Shop = "", job: Job = "", as_json: Json = False) -> None:
    """What can be had for a machine and how it fits; with a before-run also the plans worth their money."""
    with _view(shop, job) as view:
        from brachium.formats.answers.job_json import plans_values

        weighed = view.choice.weighed
        worth = weighed.front.plans if weighed is not None else ()
        best = weighed.front.recommended if weighed is not None else None
        offers = tuple((o.candidate, o.level, o.headline, o.verdicts, o.chosen) for o in view.choice.offers)
        titles = weighed.titles if weighed is not None else {}
        if as_json:
            say_json(plans_values(view.job.id, offers, worth, best, titles))
            return
        for offer in view.choice.offers:
            typer.echo(f"  {offer.level.words:12} {offer.candidate.title}  {offer.candidate.where}: {offer.headline}")
        for plan in worth:
            names = ", ".join(titles.get(i, i) for i in plan.ids) or "as it is"
            mark = "*" if plan == best else " "
            typer.echo(f"{mark} {plan.cost:7.0f} EUR  x {plan.gain:.2f}  {names}")
        if weighed is None:
            typer.echo("  gains are not known: no before-run is there")


@app.command()
def steps(shop: Shop = "", job: Job = "", as_json: Json = False) -> None:
    """The steps of the plan in hand."""
    with _view(shop, job) as view:
        from brachium.formats.answers.job_json import steps_values

        done = frozenset(s.step_id for s in view.job.steps_done)
        if as_json:
            say_json(steps_values(view.job.id, view.work.steps, done))
            return
        for number, step in enumerate(view.work.steps, 1):
            typer.echo(f"{'x' if step.id in done else ' '} {number:2}  {step.title}  {step.attended_min:g} min")
            for words in step.cautions:
                typer.echo(f"       caution: {words}")
        if not view.work.steps:
            typer.echo("nothing is planned: choose something first")


@app.command("next")
def next_action(shop: Shop = "", job: Job = "", as_json: Json = False) -> None:
    """The one next best action of a job."""
    with _view(shop, job) as view:
        from brachium.formats.answers.job_json import next_values

        standing = view.standing
        if as_json:
            say_json(next_values(view.job.id, standing.stage.value, standing.next))
            return
        typer.echo(f"{standing.next.title}: {standing.next.detail}")
