"""What the process that jobs are forked from loads once, so that a job begins in milliseconds."""

from importlib import import_module

import django
from django.conf import settings

django.setup()
for body in settings.JOB_BODIES.values():
    import_module(body.rpartition(".")[0])
import_module("highspy")
