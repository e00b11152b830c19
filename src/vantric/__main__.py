"""``python -m vantric`` is the command line."""

from vantric.cli import main

if __name__ == "__main__":
    main()
