"""What keeps the data true and the tables small: invariants, clearing, and the worker's jobs for both."""
