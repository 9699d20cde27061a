"""``python -m movrel`` is the ``movrel`` command."""

import sys

from movrel.cli.main import main

sys.exit(main())
