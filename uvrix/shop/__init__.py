"""The shop: Django over the core.

config/    settings, addresses, errors as problem+json, who may do what
accounts/  people, roles, sign-in, invitations
library/   board models and their editions
jobs/      customers, cards, jobs, the shelf
bench/     what happens at the bench: memory runs, marks
demo/      the demo shop

In each: models.py (data and what is always true of it), services.py (one function a thing that happens, one
transaction each), queries.py (reads), api.py (requests and answers, no rules).
"""
