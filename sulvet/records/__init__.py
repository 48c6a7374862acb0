"""What is worth keeping: then and now, trends, notes, slips, files in and out."""
