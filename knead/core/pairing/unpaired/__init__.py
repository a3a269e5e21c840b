"""What has no partner yet: it joins, divides, or is what took its place."""
