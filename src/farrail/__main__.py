"""The program: a subcommand of the command line, or the window."""

import sys

COMMANDS = (
    "readout",
    "plan",
    "ask",
    "edit",
    "calc",
    "steps",
    "sheet",
    "pack",
    "ring",
    "order",
    "log",
    "calibrate",
    "compare",
    "frame",
    "bench",
    "schema",
    "pages",
    "demo",
    "picture",
    "pictures",
)


def main() -> None:
    """Run the command line when a subcommand or option is named, otherwise open the window on a file."""
    from farrail.errors import FarRailError

    arguments = sys.argv[1:]
    try:
        # Opening the window is the fast path: the command line's parser is not even imported for it.
        if not arguments or arguments == ["demo"] or not (arguments[0] in COMMANDS or arguments[0].startswith("-")):
            from farrail.ui.start import run

            sys.exit(run(arguments))
        from farrail.cli.program import app

        app()
    except FarRailError as error:
        from farrail.cli.printing import refuse

        refuse(error)
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)
    except KeyboardInterrupt:
        sys.exit(130)
    except Exception as error:
        from farrail.cli.printing import own_trouble

        own_trouble(error)


if __name__ == "__main__":
    main()
