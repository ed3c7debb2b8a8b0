"""The application's settings with a quick password hash: the tests sign in hundreds of times."""

from config.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
