"""What keeps power locked: the guard's own word, and what the card's thread says of its inputs and fuses."""

from __future__ import annotations

from dataclasses import replace

from uvrix.core.case.belief.shorts import JOINED, joined
from uvrix.core.readings.guard import Block
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.queries import Measured


def locks(job: Job, found: Measured) -> tuple[Block, ...]:
    """Everything that keeps power locked.

    A fuse that reads good needs no tick; one that reads open is not good by one; an act on an input's net makes what
    was read of it before count no more; a stage that reads joined would let power straight through. On a board that
    nobody has drawn every input of the bench plan is read, and somebody vouches for the fuses that nobody has marked.
    """
    facts = thread(job).facts
    if facts.board is None:
        known = {block.point for block in found.blocks}
        return (*found.blocks, *(Block(block.about, block.why) for block in facts.blocks if block.about not in known))
    fuses, said = facts.touches.fuses, {block.about: block for block in facts.blocks}
    kept = [
        replace(block, why=said[block.point].why if block.point in said else block.why)
        for block in found.blocks
        if block.point not in fuses or block.point in said
    ]
    known = {block.point for block in kept}
    watched = fuses | set(facts.touches.inputs)
    more = [
        Block(block.about, block.why) for block in facts.blocks if block.about in watched and block.about not in known
    ]
    return (*kept, *more, *(Block(pair, JOINED.format(pair)) for pair in joined(facts)))
