"""The application's settings with a quick password hash: the tests sign in hundreds of times."""

from config.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
# The tests' databases are made by the owner; what is tested works in them as the application's role (conftest.py).
DATABASES["default"] |= {"USER": CONFIG["database"]["user"], "PASSWORD": CONFIG["database"]["password"]}  # noqa: F405
SHEETS_BY_WORKER = False  # no worker runs beside most tests
BUDGET_PERSON_S = BUDGET_COMPANY_S = 1e9  # a test asks for in a minute what nobody does in a day
