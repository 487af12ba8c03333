"""How processes are run: standing by, and able to do little."""
