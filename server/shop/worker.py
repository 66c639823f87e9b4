"""What every worker process has from its beginning: the core and the jobs, with all that is kept between two answers."""

import os

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

from shop import jobs

jobs.warm()
