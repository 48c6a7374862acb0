"""Making a teacher's account."""

from __future__ import annotations

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction

from sulvet.accounts.errors import Conflict, Refused


def create_first_teacher(username: str, password: str) -> User:
    """The account of a new, empty installation; refused once there is one."""
    with transaction.atomic():
        if get_user_model().objects.exists():
            raise Conflict("This Sulvet has an account already. Log in with it.")
        user = User(username=username)
        try:
            user.clean_fields(exclude=["password"])
            validate_password(password, user)
        except ValidationError as error:
            raise Refused(" ".join(error.messages)) from error
        user.set_password(password)
        user.save()
    return user
