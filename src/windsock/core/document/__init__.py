"""The shot as data."""
