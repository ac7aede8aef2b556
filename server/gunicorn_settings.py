"""How the application is served: threads with persistent database connections."""

import os

wsgi_app = "jalebi.wsgi:application"
worker_class = "gthread"
workers = max(2, min(4, os.cpu_count() or 2))
threads = 4
keepalive = 75
timeout = 60
accesslog = None
errorlog = "-"
preload_app = True
