"""The checks, a module each; all modules here are loaded, and each registers itself. Severities are those of checks.md."""

import importlib
import pkgutil

for _module in pkgutil.iter_modules(__path__):
    importlib.import_module(f"{__name__}.{_module.name}")
