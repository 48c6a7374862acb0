"""Open formats in and out.

For others:

coco        marks
report      a take as JSON
slip        a student's page as PDF
tables      CSV
roster      class lists
clip_names  who is on a clip, by its name
vtt         timed notes
ical        rechecks
"""

__all__ = ["clip_names", "coco", "ical", "report", "roster", "slip", "tables", "vtt"]
