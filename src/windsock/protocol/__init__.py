"""How processes ask the evaluator: requests, replies, what a frame is sent as, and the wire."""
