"""All computation of the job: pure functions on frozen models; no web, database, files, clock or global state."""
