"""Accounts and sessions."""
