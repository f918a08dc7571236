"""Background jobs in tests."""

import threading

from procrastinate.contrib.django import app


def work() -> None:
    """Run what is waiting, as the worker does, and come back."""

    def run() -> None:
        connector = app.connector.get_worker_connector()  # type: ignore[attr-defined]
        with app.replace_connector(connector) as own:
            own.run_worker(wait=False, install_signal_handlers=False, listen_notify=False)

    # On a thread of its own: browser tests leave an event loop behind on this one.
    thread = threading.Thread(target=run)
    thread.start()
    thread.join()
