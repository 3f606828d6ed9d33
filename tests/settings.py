"""Settings for tests: a folder of their own, never the artist's."""

import os
import tempfile

os.environ["CALTIN_VAR"] = tempfile.mkdtemp(prefix="caltin-tests-")
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from caltin_site.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
TASKS = {"default": {"BACKEND": "django_tasks.backends.dummy.DummyBackend"}}
