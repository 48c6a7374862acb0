"""Accounts from the shell."""

from __future__ import annotations

import io
from unittest.mock import patch

from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.test import TestCase

ASK = "sulvet.accounts.management.commands.add_account.getpass"


class AddAccountTests(TestCase):
    def test_a_teacher_is_added_once_and_with_a_password_that_is_none_to_guess(self) -> None:
        for words, told in (
            (["four quiet words", "for quiet words"], "two different passwords"),
            (["short", "short"], "too short"),
            (["four quiet words"] * 2, ""),
            ([], "an account “hanna” already"),
        ):
            with patch(ASK, side_effect=words):
                if told:
                    with self.assertRaisesMessage(CommandError, told):
                        call_command("add_account", "hanna")
                else:
                    call_command("add_account", "hanna", stdout=io.StringIO())
        self.assertTrue(User.objects.get().check_password("four quiet words"))
