"""What has no partner: what it grows out of, or goes into."""
