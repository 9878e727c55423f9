"""The shelf and the job's page: what all steps know of the jobs, in one look."""
