"""The demo's people, its programmes on the jobs list, and a log of what was done this year."""

from datetime import date

from agronomy.schedule.programme import dated, programmes
from web.core import tables
from web.jobs.making import job_of_step
from web.jobs.models import Job
from web.jobs.weather import climate_for
from web.overview.demo.days import coming_day, past_day
from web.people.models import Holding, Membership, User
from web.records.models import LogEntry
from web.records.writing import write


def load_work(document: dict, holding: Holding, plots: dict, today: date) -> None:
    people = {row["name"]: _load_person(row, holding) for row in document.get("person", ())}
    for row in document.get("programme", ()):
        programme = programmes(tables())[row["key"]]
        plot = plots[row["plot"]]
        for step in dated(
            programme, coming_day(row["start"], today), row.get("count", plot.area_m2), tables(), climate=climate_for(holding)
        ):
            job_of_step(step, plot, programme).save()
    for row in document.get("deed", ()):
        name = tables().materials[row["material"]].name
        entry = LogEntry(
            holding=holding,
            plot=plots[row["plot"]],
            material=row["material"],
            name=name,
            kg=row["kg"],
            planned_kg=row.get("planned_kg"),
            done_on=past_day(row["day"], row.get("years_ago", 0), today),
            weather=row.get("weather", ""),
            note=row.get("note", ""),
            by=people.get(row.get("by")),
        )
        write(entry, None)
    for row in document.get("person", ()):
        if row["role"] == Membership.Role.WORKER:
            Job.objects.filter(holding=holding, what__in=row.get("does", ())).update(person=people[row["name"]])


def _load_person(row: dict, holding: Holding) -> User:
    user = User.objects.create_user(row["email"], row["password"], name=row["name"])
    Membership.objects.create(user=user, holding=holding, role=row["role"])
    return user
