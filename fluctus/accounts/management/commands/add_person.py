"""Gives a person an account in a workspace."""

from argparse import BooleanOptionalAction
from getpass import getpass
from typing import Any

from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from fluctus.accounts.models import Role
from fluctus.accounts.second_step.services import switch_off
from fluctus.accounts.services import add_person
from fluctus.http import clock


class Command(BaseCommand):
    """``python -m django add_person NAME WORKSPACE``."""

    help = "Give a person an account in a workspace, making either where it is not there."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take a name and a workspace."""
        parser.add_argument("name")
        parser.add_argument("workspace", help="As in its address: small letters, digits, hyphens.")
        parser.add_argument(
            "--role",
            choices=Role.values,
            help="Otherwise the first of a workspace is its owner, others are editors.",
        )
        parser.add_argument(
            "--operates",
            action=BooleanOptionalAction,
            help="Whether they see to the installation, and are shown how it is.",
        )
        parser.add_argument(
            "--no-second-step",
            action="store_true",
            help="End the second step of somebody whose device and recovery codes are lost.",
        )
        parser.add_argument(
            "--replace-password", action="store_true", help="Give somebody who is there another."
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Ask for the password and save."""
        known = User.objects.filter(username=options["name"]).exists()
        # Whoever is there keeps their password, unless it is said to be replaced.
        ask = options["replace_password"] or not known
        password = getpass(f"Password for {options['name']}: ") if ask else None
        try:
            person = add_person(
                options["name"],
                password,
                options["workspace"],
                options["role"],
                operates=options["operates"],
            )
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        if options["no_second_step"]:
            switch_off(person, clock.now())
        self.stdout.write(f"{options['name']} can sign in and sees {options['workspace']}.")
