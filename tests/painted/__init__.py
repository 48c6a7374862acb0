"""A flat painted face: quick clips with exact truth, for tests of files, jobs and pages."""
