"""`python -m agronomy …` is the same door as `iron-rake …`."""

from agronomy.cli.door import run

if __name__ == "__main__":
    run()
