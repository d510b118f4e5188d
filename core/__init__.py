"""The job's rules and computation: pure Python, no web, no database, no clock, no I/O."""
