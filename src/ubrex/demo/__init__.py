"""The sample workshop: the Lanternfold Puppet Workshop, a year of it, put in through the same use cases people use."""

from ubrex.demo._story import load_demo

__all__ = ["load_demo"]
