"""Starts what the product needs. Called by ./start, ./dev and ./test.

cluster.py    a PostgreSQL cluster of our own on loopback
start.py      ./start: cluster, migrations, demo shop, server
dev.py        ./dev: the same with reload
test.py       ./test: a test cluster, then pytest over checks and tests
templates.py  the databases that tests are cloned from
publish.py    files made from the code
"""
