"""Where things lie: rules compiled and asked, and what they read."""
