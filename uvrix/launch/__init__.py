"""Starts what the product needs: the database cluster, the server, the checks. Called by ./start and ./test.

cluster.py  a PostgreSQL cluster of our own on loopback
start.py    ./start: cluster, migrations, demo shop, server
test.py     ./test: the same with a database of its own, then every check
"""
