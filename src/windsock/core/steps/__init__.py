"""The steps of a recipe, one file each."""

from windsock.core.steps.cut_away import CutAway

Step = CutAway
