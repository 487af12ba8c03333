"""Frames to finished pictures, passes and film. What renders runs in a process of its own."""
