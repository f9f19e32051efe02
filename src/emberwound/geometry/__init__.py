"""Numbers in, numbers out: shapes, sweeps and flight. No game word lives here; only ValueError is raised."""
