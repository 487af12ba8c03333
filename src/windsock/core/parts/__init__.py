"""What goes through a recipe: a mesh, a mesh in pieces, or copies of models."""
