"""The customer's own page: the job, the question, the answer, the report."""
