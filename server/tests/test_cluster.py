"""A proof on a Dask cluster says the same as one on the local pool."""

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from distributed import LocalCluster, default_client
from django.test import Client
from shop.models import Machine, Proof
from shop.proofs import running
from test_api import wait_for


@pytest.fixture
def cluster() -> Iterator[str]:
    with LocalCluster(
        n_workers=1, threads_per_worker=1, processes=True, dashboard_address=None, host="127.0.0.1"
    ) as running:
        yield running.scheduler_address


@pytest.mark.django_db(transaction=True)
@pytest.mark.thorough
def test_a_cluster_finds_what_the_pool_finds(
    heron: Machine, as_role: Callable[[str], Client], cluster: str, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    client = as_role("technician")
    found = []
    for address in ("", cluster):
        settings.CLUSTER = address
        monkeypatch.setattr(running, "_executor", [])
        assert (
            client.post(
                "/api/machines/heron/proofs", {"text": "", "file": ""}, content_type="application/json"
            ).status_code
            == 200
        )
        wait_for(client, "done")
        newest = Proof.objects.order_by("-pk").first()
        assert newest is not None and newest.done == newest.total == 86 and newest.error == ""
        found.append(newest.results)
        running._executor[0].shutdown(wait=False)
    default_client().close()
    assert found[0] == found[1]
