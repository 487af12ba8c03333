"""From a document to a frame."""
