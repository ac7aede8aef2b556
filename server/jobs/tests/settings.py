"""The settings of the worker that tests start: bodies for tests."""

from config.settings import *  # noqa: F403

JOB_BODIES = {"balance": "jobs.tests.bodies.wait", "ingredient-file": "jobs.tests.bodies.work_out"}
