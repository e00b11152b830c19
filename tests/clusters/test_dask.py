"""Dask on a cluster of two processes: exact, and the same after a worker died."""

import threading
import time
import unittest
from typing import Any

import dask.dataframe as dd
import pandas as pd
from distributed import Client, LocalCluster

import vantric as vt
from tests.enginecorpus import RECORDS, CountingInEngines, Rows


class Dask(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return dd.from_pandas(pd.DataFrame(rows), npartitions=4)


def slow(part: pd.DataFrame) -> pd.DataFrame:
    """Return a part of a frame after a while."""
    time.sleep(1.0)
    return part


class OnACluster(unittest.TestCase):
    def setUp(self) -> None:
        cluster = LocalCluster(
            n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None, host="127.0.0.1"
        )
        self.addCleanup(cluster.close)
        client = Client(cluster)
        self.addCleanup(client.close)
        self.cluster, self.client = cluster, client

    def test_counts_multiplies_and_adds_up_exactly(self) -> None:
        held = Dask()
        held.case = self
        held.hold()

    def test_a_worker_dies_in_the_middle(self) -> None:
        frame = dd.from_pandas(pd.DataFrame(RECORDS), npartitions=8).map_partitions(slow)
        expected = vt.tally(frame, "de.fect", count="pieces", weight="minutes").as_dict()
        found = []
        work = threading.Thread(
            target=lambda: found.append(vt.tally(frame, "de.fect", count="pieces", weight="minutes").as_dict())
        )
        work.start()
        time.sleep(1.5)
        self.assertTrue(work.is_alive())
        next(iter(self.cluster.workers.values())).process.process.kill()
        work.join(120)
        self.assertEqual(found, [expected])


if __name__ == "__main__":
    unittest.main()
