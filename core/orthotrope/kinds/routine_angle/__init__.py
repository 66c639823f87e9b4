"""How far an edge is turned."""
