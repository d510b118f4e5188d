"""What is foretold of the weather, by place and day (weather)."""
