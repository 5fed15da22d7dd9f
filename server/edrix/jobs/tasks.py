"""What a worker of procrastinate runs; found by its name when the application starts."""

from django.db import close_old_connections
from procrastinate import JobContext
from procrastinate.contrib.django import app

from edrix.jobs import services

STALLED_S = 30
"""A worker that has not been heard of for so long is gone, and its job is begun again."""
KEEP_H = 24


@app.task(name=services.RUN_JOB)
def run_job(job_id: int) -> None:
    # A thread of the worker lives long; its connection may have died since.
    close_old_connections()
    try:
        services.run(job_id)
    finally:
        close_old_connections()


@app.periodic(cron="* * * * *")
@app.task(name="edrix.begin_again", pass_context=True, queueing_lock="edrix.begin_again")
async def begin_again(context: JobContext, timestamp: int) -> None:
    """Jobs whose worker was killed go to another."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_S):
        await manager.retry_job(job)


@app.periodic(cron="17 3 * * *")
@app.task(name="edrix.clean_up", pass_context=True, queueing_lock="edrix.clean_up")
async def clean_up(context: JobContext, timestamp: int) -> None:
    await context.app.job_manager.delete_old_jobs(nb_hours=KEEP_H, include_failed=True)
    await context.app.configure_task("edrix.clean_up_ours").defer_async()


@app.task(name="edrix.clean_up_ours")
def clean_up_ours() -> None:
    close_old_connections()
    services.clean_up()
