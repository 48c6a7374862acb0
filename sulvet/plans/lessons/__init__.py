"""The band by ladder, one student's ladder, drills and routines over HTTP."""
