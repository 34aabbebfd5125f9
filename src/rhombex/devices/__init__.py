"""Simulated stand-ins for devices of the workshop. They speak HTTP as the real kind does."""
