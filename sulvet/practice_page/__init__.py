"""The student's page on a phone: what to practise, ticked and answered by the student."""
