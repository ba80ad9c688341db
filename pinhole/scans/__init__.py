"""Scans as scanners make them: where a sheet lies, its tones, and what they say of the light."""
