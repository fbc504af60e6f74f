"""The sentences of every finding: what is the case, with the number in it, and why or what to do."""

from farrail.readouts.finding import Finding
from farrail.text import (
    close_up_findings,
    front_findings,
    joint_findings,
    light_findings,
    log,
    range_findings,
    spacing_findings,
    train_findings,
)
from farrail.text.values import Values

SENTENCES = {
    **train_findings.SENTENCES,
    **spacing_findings.SENTENCES,
    **light_findings.SENTENCES,
    **front_findings.SENTENCES,
    **close_up_findings.SENTENCES,
    **joint_findings.SENTENCES,
    **range_findings.SENTENCES,
    **log.SENTENCES,
}


def sentences(finding: Finding) -> tuple[str, str]:
    """Return a finding's judgement in one sentence, and its reason."""
    return SENTENCES[finding.kind](Values(finding.values))


def text_of(finding: Finding) -> str:
    """Return a finding's judgement in one sentence."""
    return sentences(finding)[0]


def reason_of(finding: Finding) -> str:
    """Return why, and what to do."""
    return sentences(finding)[1]
