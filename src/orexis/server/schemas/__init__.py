"""What the API says and accepts: shapes only."""
