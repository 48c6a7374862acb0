"""What run.py needs beside itself; the standard library alone."""
