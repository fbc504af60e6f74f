"""What the build sheet says on paper, as blocks that stay together; nothing is said twice word by word."""

import re
from collections.abc import Iterator
from html import escape
from typing import Any

from farrail.language import say
from farrail.ui.sheet_flow import Block
from farrail.ui.theme.tokens import PAPER

# So many lines of a long ledger stay together.
ROWS = 12
SENTENCE = re.compile(r"(?<=[.!?]) +")


def head_html(data: Any, *, ledger: bool = True) -> str:
    """Return the head of the sheet: the day, the verdict in the colour of the worst finding, and the ledger."""
    colour = getattr(PAPER, data["worst"])
    return (
        f"<p>{escape(data['workbook'])}, {data['day']}</p>"
        f"<p><b style='color: {colour}'>{escape(data['verdict'])}</b> {escape(data['detail'])}</p>"
        f"<p>{escape(data['used'])}</p>{_ledger(data, data['ledger']) if ledger else ''}{_slots_html(data['slots'])}"
    )


def _ledger(data: Any, rows: Any) -> str:
    unit = data["length_unit"]
    listed = "".join(
        f"<tr><td>{escape(r['name'])}</td><td align='right'>{r['length']}</td><td align='right'>{r['to_here']}</td>"
        f"<td>&nbsp;&nbsp;{r['origin']}</td></tr>"
        for r in rows
    )
    return (
        f"<table cellpadding='0' width='100%'><tr><td>{say('Part')}</td>"
        f"<td align='right'>{say('length, {unit}', unit=unit)}</td>"
        f"<td align='right'>{say('to here, {unit}', unit=unit)}</td>"
        f"<td>&nbsp;&nbsp;{say('from')}</td></tr>{listed}</table>"
    )


def ledger_blocks(data: Any) -> list[Block]:
    """Return a ledger too long for the head of a page, in pieces."""
    rows = data["ledger"]
    return [Block(_ledger(data, rows[first : first + ROWS])) for first in range(0, len(rows), ROWS)]


def sheet_blocks(data: Any) -> list[Block]:
    """Return what is below the head: notes, steps, cautions, what is done either way, and what to pack."""
    blocks = [_heading(say("Notes"))]
    blocks += [
        Block(f"<p>{f['mark']} <b>{escape(f['judgement'])}</b> {escape(f['reason'])}</p>") for f in data["findings"]
    ]
    blocks.append(_heading(say("Steps, about {minutes} minutes", minutes=data["minutes"])))
    blocks += _steps(data["stages"])
    blocks.append(_heading(say("Cautions")))
    blocks += [Block(f"<p>◆ <b>{escape(head)}</b> {escape(reason)}</p>") for head, reason in data["cautions"]]
    if data["customs"]:
        blocks.append(_heading(say("Done either way")))
    for head, lines in data["customs"]:
        blocks.append(Block(f"<p>◇ <b>{escape(head)}</b></p>{''.join(f'<p>{escape(line)}</p>' for line in lines)}"))
    blocks.append(_heading(say("Pack list")))
    blocks.append(Block(f"{_pack_html(data['pack'])}<p>{escape(data['mass'])}</p>"))
    return blocks


def _heading(title: str) -> Block:
    return Block(f"<h3>{escape(title)}</h3>", leads=True, section=True)


def _steps(stages: Any) -> Iterator[Block]:
    """Yield the steps; how and why are said at the first step that has them, and not again at those after it."""
    said: set[str] = set()
    for stage in stages:
        yield Block(f"<h4>{escape(stage['title'])}</h4>", leads=True)
        for step in stage["steps"]:
            fresh = []
            for sentence in SENTENCE.split(f"{step['how']} {step['why']}".strip()):
                if sentence and sentence not in said:
                    said.add(sentence)
                    fresh.append(sentence)
            yield Block(
                f"<p><b>{step['number']}. {escape(step['what'])}</b> {escape(' '.join(fresh))}</p>", bool(step["done"])
            )  # fmt: skip


def _slots_html(slots: Any) -> str:
    """Return what is in which slot, a line for each holder; "" without slots."""
    holders: dict[str, list[str]] = {}
    for row in slots:
        slid = f", {row['slid']}" if row["slid"] else ""
        holders.setdefault(row["holder"], []).append(f"{row['slot']} {row['name']}{slid}")
    return "".join(
        f"<p>{escape(say('{holder}, by slot: {listed}', holder=holder, listed='; '.join(listed)))}</p>"
        for holder, listed in holders.items()
    )


def _pack_html(items: Any) -> str:
    """Return the pack list: each pouch or case with its pieces in a paragraph of its own, the rest after them."""
    paragraphs: list[list[str]] = [[]]
    loose: list[str] = []
    for item in items:
        entry = f"[&nbsp;&nbsp;]&nbsp;{escape(_counted(item)).replace(chr(32), chr(160))}"
        if item["into"]:
            paragraphs[-1].append(entry)
        elif item["what"] == "case":
            paragraphs.append([f"<b>{entry}</b>"])
        else:
            loose.append(entry)
    return "".join(f"<p>{' &nbsp; '.join(some)}</p>" for some in (*paragraphs, loose) if some)


def _counted(item: Any) -> str:
    many = f"{item['count']} × " if item["count"] > 1 else ""
    note = f" ({item['note']})" if item["note"] else ""
    return f"{many}{item['name']}{note}"
