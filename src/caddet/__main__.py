"""``python -m caddet``: the command line."""

from caddet.cli import main

raise SystemExit(main())
