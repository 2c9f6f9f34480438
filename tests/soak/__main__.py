"""``python -m tests.soak``."""

import sys

from tests.soak.run import main

sys.exit(main())
