"""Long work, by a worker process beside the server."""
