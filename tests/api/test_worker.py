"""What a killed worker left half done is begun anew."""

from __future__ import annotations

import asyncio
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.db import connection

from uvrix.shop.archive.tasks import SILENT_S, take_up_again

LEFT = """
with gone as (
  insert into procrastinate_workers (last_heartbeat) values (now() - %s * interval '1 second') returning id)
insert into procrastinate_jobs (queue_name, task_name, status, worker_id, args)
select 'default', 'uvrix.shop.offers.tasks.send_letter', 'doing', id, '{}' from gone returning id
"""


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize(("silent", "then"), [(SILENT_S - 20, "doing"), (SILENT_S + 20, "todo")])
def test_a_task_of_a_worker_that_is_gone_is_to_be_done_again(silent, then):
    with connection.cursor() as cursor:
        cursor.execute(LEFT, [silent])
        (job,) = cursor.fetchone()
        # in a thread: in this one a browser's loop may run already
        with ThreadPoolExecutor(1) as thread:
            thread.submit(lambda: asyncio.run(take_up_again(0))).result()
        cursor.execute("select status from procrastinate_jobs where id = %s", [job])
        assert cursor.fetchone() == (then,)
