"""What every worker process has from its beginning: the core and the jobs, with all that is kept between two
answers."""

import gc
import importlib
import os
import pkgutil

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

import shop
from shop.stages.jobs import warm

for module in pkgutil.walk_packages(shop.__path__, "shop."):
    if module.name.endswith(".jobs"):
        importlib.import_module(module.name)
warm()
gc.collect()
gc.freeze()  # what is there stays: the collector leaves its pages alone, so that workers go on sharing them
