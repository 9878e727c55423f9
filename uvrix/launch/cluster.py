"""A PostgreSQL cluster of our own: own folder, own port, loopback only, never one that is already there."""

from __future__ import annotations

import os
import pwd
import secrets
import shutil
import socket
import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import TextIO

SYSTEM_USER = "postgres"
NAME = "uvrix"
# The role that the shop's own programs are: it owns their database and may do nothing else.
PLAIN = "uvrix_shop"
START_SECONDS = "60"


class CannotStart(Exception):
    """Something is missing or in the way; the message is one clear line."""


def pg_bin() -> Path:
    """The folder of PostgreSQL's own programs, newest version first."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda path: int(path.parts[4]))
    if not found:
        raise CannotStart("found no PostgreSQL server, expected Debian's package postgresql")
    return found[-1].parent


def free_port() -> int:
    """A loopback port that nothing listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def port_is_free(port: int) -> bool:
    """Whether nothing listens on a loopback port."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


# What an older version made as the cluster's first role, who may do everything; what extensions bring stays theirs.
OWNED_BY_PLAIN = """
do $$
declare one text;
begin
  for one in
    select format('table %s', c.oid::regclass) from pg_class c
    where c.relnamespace = 'public'::regnamespace and c.relowner <> 'PLAIN'::regrole
      and (c.relkind in ('r', 'p', 'v', 'm') or (c.relkind = 'S' and not exists (
        select from pg_depend d where d.objid = c.oid and d.deptype in ('a', 'i'))))
      and not exists (select from pg_depend d where d.objid = c.oid and d.deptype = 'e')
    union all
    select format('routine %s', p.oid::regprocedure) from pg_proc p
    where p.pronamespace = 'public'::regnamespace and p.proowner <> 'PLAIN'::regrole
      and not exists (select from pg_depend d where d.objid = p.oid and d.deptype = 'e')
    union all
    select format('type %s', t.oid::regtype) from pg_type t left join pg_class c on c.oid = t.typrelid
    where t.typnamespace = 'public'::regnamespace and t.typowner <> 'PLAIN'::regrole
      and (t.typtype in ('e', 'd') or (t.typtype = 'c' and c.relkind = 'c'))
      and not exists (select from pg_depend d where d.objid = t.oid and d.deptype = 'e')
  loop
    execute format('alter %s owner to PLAIN', one);
  end loop;
end $$
""".replace("PLAIN", PLAIN)


def secret_file(path: Path, word: str) -> None:
    """Keep a word that nobody else on this machine reads, from its first byte on."""
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
        file.write(word)


def _named(port: int, name: str, user: str, password: str) -> dict[str, str]:
    return {
        "UVRIX_DB_HOST": "127.0.0.1",
        "UVRIX_DB_PORT": str(port),
        "UVRIX_DB_NAME": name,
        "UVRIX_DB_USER": user,
        "UVRIX_DB_PASSWORD": password,
    }


@dataclass(frozen=True, slots=True)
class Cluster:
    """A cluster below `folder`; the database user owns `folder`/cluster, whoever that has to be."""

    folder: Path

    @property
    def data(self) -> Path:
        """The cluster's own folder."""
        return self.folder / "cluster"

    @property
    def password(self) -> str:
        """The database user's password, made with the cluster."""
        return (self.folder / "database-password").read_text().strip()

    def create(self, *, durable: bool = True) -> None:
        """Make the cluster where there is none."""
        if self.exists():
            return
        self.folder.mkdir(parents=True, exist_ok=True)
        secret = self.folder / "database-password"
        secret.unlink(missing_ok=True)
        secret_file(secret, secrets.token_hex(24))
        self.data.mkdir(mode=0o700, exist_ok=True)
        self._hand_over()
        word = self.data.parent / "initdb-password"
        word.unlink(missing_ok=True)
        secret_file(word, self.password)
        if os.geteuid() == 0:
            shutil.chown(word, SYSTEM_USER)
        try:
            options = ["--auth=scram-sha-256", "--encoding=UTF8", "--locale=C.UTF-8", f"--username={NAME}"]
            self._run("initdb", "-D", str(self.data), *options, f"--pwfile={word}", "--no-sync")
        finally:
            word.unlink()
        lines = ["listen_addresses = '127.0.0.1'", "unix_socket_directories = ''", "log_min_messages = warning"]
        if not durable:
            lines += ["fsync = off", "synchronous_commit = off", "full_page_writes = off"]
        with self._own_config() as config:
            config.write("\n" + "\n".join(lines) + "\n")

    def exists(self) -> bool:
        """Whether the cluster was made, wholly."""
        return (self.data / "PG_VERSION").exists() and (self.folder / "database-password").exists()

    def _own_config(self) -> TextIO:
        return (self.data / "postgresql.conf").open("a")

    def _hand_over(self) -> None:
        """Give the folder to the user that the server must run as, who must be able to reach it."""
        if os.geteuid() != 0:
            return
        try:
            pwd.getpwnam(SYSTEM_USER)
        except KeyError:
            raise CannotStart(f"found no system user {SYSTEM_USER}, expected Debian's package postgresql") from None
        shutil.chown(self.data, SYSTEM_USER, SYSTEM_USER)
        try:
            self._run("initdb", "--version")
            self._as_server(["test", "-w", str(self.data)])
        except subprocess.CalledProcessError:
            raise CannotStart(
                f"found {self.folder} below a folder that the user {SYSTEM_USER} cannot enter, "
                "expected UVRIX_DATA in a place such as /var/lib/uvrix"
            ) from None

    def start(self) -> int:
        """Start the server unless it runs; returns its port."""
        if (running := self.running_port()) is not None:
            return running
        kept = self.folder / "database-port"
        port = int(kept.read_text()) if kept.exists() else free_port()
        if not port_is_free(port):
            port = free_port()
        kept.write_text(str(port))
        log = self.data / "server.log"
        self._run(
            "pg_ctl", "-D", str(self.data), "-l", str(log), "-w", "-t", START_SECONDS, "-o", f"-p {port}", "start"
        )
        return port

    def running_port(self) -> int | None:
        """The port of the running server, or None."""
        try:
            self._run("pg_ctl", "-D", str(self.data), "status")
        except CannotStart:
            return None
        return int((self.data / "postmaster.pid").read_text().splitlines()[3])

    def stop(self) -> None:
        """Stop the server; connections are cut, nothing committed is lost."""
        self._run("pg_ctl", "-D", str(self.data), "-m", "fast", "-w", "stop")

    def ensure_database(self, port: int, name: str) -> None:
        """Make the database where there is none."""
        import psycopg

        with psycopg.connect(self.dsn(port, "postgres"), autocommit=True) as connection:
            known = connection.execute("select 1 from pg_database where datname = %s", [name]).fetchone()
            if not known:
                connection.execute(f'create database "{name}"')

    def drop_database(self, port: int, name: str) -> None:
        """Remove a database and all that is in it."""
        import psycopg

        with psycopg.connect(self.dsn(port, "postgres"), autocommit=True) as connection:
            connection.execute(f'drop database if exists "{name}" with (force)')

    def ensure_plain_role(self, port: int, name: str) -> str:
        """The password of the plain role, which owns the database and all that is in it; made where there is none."""
        import psycopg
        from psycopg import sql

        kept = self.folder / "shop-password"
        if not kept.exists():
            secret_file(kept, secrets.token_hex(24))
        word, role = kept.read_text().strip(), sql.Identifier(PLAIN)
        with psycopg.connect(self.dsn(port, name), autocommit=True) as connection:
            known = connection.execute("select from pg_roles where rolname = %s", [PLAIN]).fetchone()
            way = sql.SQL("alter" if known is not None else "create")
            connection.execute(sql.SQL("{} role {} login password {}").format(way, role, sql.Literal(word)))
            connection.execute(sql.SQL("alter database {} owner to {}").format(sql.Identifier(name), role))
            connection.execute(sql.SQL("alter schema public owner to {}").format(role))
            connection.execute(OWNED_BY_PLAIN)
        return word

    def dsn(self, port: int, name: str) -> str:
        """The connection string of a database."""
        return f"host=127.0.0.1 port={port} dbname={name} user={NAME} password={self.password}"

    def environment(self, port: int, name: str) -> dict[str, str]:
        """What the settings read, for who may make databases: tests, and the drill of a backup."""
        return _named(port, name, NAME, self.password)

    def plain_environment(self, port: int, name: str) -> dict[str, str]:
        """What the settings of the shop's own programs read."""
        return _named(port, name, PLAIN, self.ensure_plain_role(port, name))

    def _run(self, program: str, *arguments: str) -> str:
        try:
            return self._as_server([str(pg_bin() / program), *arguments])
        except subprocess.CalledProcessError as error:
            said = (error.stderr or error.stdout or "").strip().splitlines()
            reason = said[-1] if said else f"exit {error.returncode}"
            raise CannotStart(
                f"{program}: found {reason}, expected it to succeed (log: {self.data}/server.log)"
            ) from None

    def _as_server(self, command: list[str]) -> str:
        if os.geteuid() == 0:
            command = ["runuser", "-u", SYSTEM_USER, "--", *command]
        environment = {**os.environ, "LC_ALL": "C.UTF-8"}
        done = subprocess.run(
            command, check=True, text=True, cwd="/", env=environment, stdin=subprocess.DEVNULL, capture_output=True
        )
        return done.stdout
