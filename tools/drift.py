"""Fails where the API's schema, or the interface's types made from it, are not those that are committed (make
types)."""

import filecmp
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
EXPORT = ["manage.py", "export_openapi_schema", "--api", "shop.api.api", "--indent", "1", "--sorted", "--output"]


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        schema, types = Path(folder) / "openapi.json", Path(folder) / "schema.d.ts"
        subprocess.run([sys.executable, *EXPORT, schema], cwd=ROOT / "server", check=True, env=dict(os.environ))
        subprocess.run(
            ["npx", "openapi-typescript", schema, "-o", types], cwd=ROOT / "web", check=True, capture_output=True
        )
        pairs = [
            (schema, ROOT / "server" / "openapi.json"),
            (types, ROOT / "web" / "src" / "api" / "generated" / "schema.d.ts"),
        ]
        stale = [kept.relative_to(ROOT) for made, kept in pairs if not filecmp.cmp(made, kept, shallow=False)]
    for file in stale:
        print(f"{file} is not what the server's types give; run make types")
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
