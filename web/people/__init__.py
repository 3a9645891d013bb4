"""Accounts, holdings, roles, invitations, and the lock of a holding."""
