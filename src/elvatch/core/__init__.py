"""All rules and computation: NumPy in, NumPy out. Knows nothing of Flask, SQLite or HTTP."""
