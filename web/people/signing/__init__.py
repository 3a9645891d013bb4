"""Signing in and what belongs to it: django-allauth does the work, here stand its words, forms, pages and addresses."""
