"""How the application is served: threads with persistent database connections, requests gathered before they begin."""

import gc
import os
from importlib import import_module

wsgi_app = "config.wsgi:application"
worker_class = "serving.gathering_worker.GatheringWorker"
workers = (os.cpu_count() or 2) + 1
threads = 2
keepalive = 75
timeout = 60
graceful_timeout = 8
accesslog = None
errorlog = "-"
# What gunicorn says goes where Django's log goes, which is set up when the application is loaded.
logconfig_dict = {
    "loggers": {"gunicorn.error": {"level": "WARNING", "handlers": [], "propagate": True, "qualname": "gunicorn.error"}}
}
preload_app = True
control_socket_disable = True
umask = 0o077


def when_ready(_server: object) -> None:
    """Load the solver once, before the workers are forked, so that nobody waits for it later."""
    import_module("highspy")


def post_fork(_server: object, _worker: object) -> None:
    """Leave what was loaded before the fork out of every later garbage collection."""
    gc.freeze()
    gc.set_threshold(10_000, 20, 50)
