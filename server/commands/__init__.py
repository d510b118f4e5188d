"""What ./calm does with files and the sample workshop; the same services as the API."""
