"""A standalone cluster of Spark with two workers, and a server of Spark Connect, all on this machine's loopback."""

from __future__ import annotations

import atexit
import os
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path

LOOPBACK = "127.0.0.1"
_PATIENCE = 90.0  # seconds for a server to listen


def free_port() -> int:
    """Return a port that nothing listens on."""
    with socket.socket() as one:
        one.bind((LOOPBACK, 0))
        return int(one.getsockname()[1])


@dataclass
class Cluster:
    """Processes of Spark.

    Attributes
    ----------
    folder
        Where they write, and where what they read can stand.
    master
        URL of the master.
    workers
        The processes of the workers.
    """

    folder: Path
    master: str
    workers: list[subprocess.Popen[bytes]] = field(default_factory=list)
    others: list[subprocess.Popen[bytes]] = field(default_factory=list)

    def start(self, *command: str) -> subprocess.Popen[bytes]:
        """Start a program of Spark in a group of its own, so that all of it can be ended."""
        import pyspark

        home = Path(pyspark.__file__).parent
        environment = {**os.environ, "SPARK_LOCAL_IP": LOOPBACK, "SPARK_HOME": str(home), "SPARK_DAEMON_MEMORY": "512m"}
        with (self.folder / f"{len(self.workers) + len(self.others)}.log").open("wb") as log:
            return subprocess.Popen(
                [str(home / "bin" / command[0]), *command[1:]],
                stdout=log,
                stderr=log,
                env=environment,
                cwd=self.folder,
                start_new_session=True,
            )

    def add_worker(self) -> None:
        """Start another worker."""
        self.workers.append(
            self.start(
                "spark-class",
                "org.apache.spark.deploy.worker.Worker",
                "--host",
                LOOPBACK,
                "--cores",
                "1",
                "--memory",
                "1g",
                "--webui-port",
                "0",
                "--work-dir",
                str(self.folder / "work"),
                self.master,
            )
        )

    def stop(self) -> None:
        """End everything."""
        for one in (*self.workers, *self.others):
            kill(one)
        shutil.rmtree(self.folder, ignore_errors=True)


def kill(process: subprocess.Popen[bytes]) -> None:
    """End a process and all that it started."""
    if process.poll() is None:
        os.killpg(process.pid, signal.SIGKILL)
        process.wait()


def wait_for(port: int) -> None:
    """Wait until something listens on a port."""
    until = time.monotonic() + _PATIENCE
    while time.monotonic() < until:
        try:
            socket.create_connection((LOOPBACK, port), timeout=1).close()
        except OSError:
            time.sleep(0.2)
        else:
            return
    raise TimeoutError(f"nothing listens on port {port}")


@cache
def standalone() -> Cluster:
    """Return the cluster; it is started at the first call, and ended with the process."""
    os.environ["SPARK_LOCAL_IP"] = LOOPBACK  # the driver of this process is reached there too
    port = free_port()
    cluster = Cluster(Path(tempfile.mkdtemp(prefix="vantric-spark-")), f"spark://{LOOPBACK}:{port}")
    atexit.register(cluster.stop)
    cluster.others.append(
        cluster.start(
            "spark-class",
            "org.apache.spark.deploy.master.Master",
            "--host",
            LOOPBACK,
            "--port",
            str(port),
            "--webui-port",
            "0",
        )
    )
    wait_for(port)
    cluster.add_worker()
    cluster.add_worker()
    return cluster


def has_connect_server() -> bool:
    """Whether the installed Spark brings its Connect server along: 3.5 would fetch it from a registry."""
    import pyspark

    return any((Path(pyspark.__file__).parent / "jars").glob("spark-connect_*.jar"))


@cache
def connect_server() -> str:
    """Return the URL of a server of Spark Connect, which counts in its own process."""
    cluster, port = standalone(), free_port()
    cluster.others.append(
        cluster.start(
            "spark-submit",
            "--class",
            "org.apache.spark.sql.connect.service.SparkConnectServer",
            "--master",
            "local[2]",
            "--conf",
            f"spark.connect.grpc.binding.port={port}",
            "--conf",
            f"spark.connect.grpc.binding.address={LOOPBACK}",
            "--conf",
            "spark.ui.enabled=false",
            "--conf",
            "spark.sql.shuffle.partitions=2",
            "spark-internal",
        )
    )
    wait_for(port)
    return f"sc://{LOOPBACK}:{port}"
