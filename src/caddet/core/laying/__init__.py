"""Laying pieces on cloth."""
