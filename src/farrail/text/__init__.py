"""Words: sentences from typed findings, figures and verdicts. The only place where their wording lives; no Qt."""
