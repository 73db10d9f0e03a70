"""``python -m leitfaden_core.cli``: the commands that need neither database nor browser."""

import sys

from leitfaden_core.cli.commands import main

if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
