"""Dated work: the list, doing a job, programmes, calendars, days that are not free."""
