"""What every worker process has from its beginning: the core and the jobs, with all that is kept between two
answers."""

import gc
import os

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

from shop import jobs

jobs.warm()
gc.collect()
gc.freeze()  # what is there stays: the collector leaves its pages alone, so that workers go on sharing them
