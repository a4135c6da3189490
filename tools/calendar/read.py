"""Reads a calendar, and fails where an event is not what a builder would look for in it."""
import datetime
import sys

import icalendar

data = open(sys.argv[1], "rb").read()
assert b"\n" not in data.replace(b"\r\n", b""), "every line ends with CRLF"
calendar = icalendar.Calendar.from_ical(data)
events = list(calendar.walk("VEVENT"))
assert events, "there are events"
ids = [str(event["UID"]) for event in events]
assert len(set(ids)) == len(ids), "each has an id of its own"
counts, alarms = {}, 0
for event in events:
    sort = str(event["UID"]).split("-")[0]
    counts[sort] = counts.get(sort, 0) + 1
    start, end = event["DTSTART"].dt, event["DTEND"].dt
    assert start < end, event["SUMMARY"]
    if sort == "evening":
        assert end - start < datetime.timedelta(hours=13), event["SUMMARY"]
    if sort == "order":
        assert not isinstance(start, datetime.datetime), "all day"
    alarms += len(event.walk("VALARM"))
assert alarms, "something reminds"
print("read by icalendar", icalendar.__version__, counts, alarms, "alarms,", len(list(calendar.walk("VTIMEZONE"))), "zone")
