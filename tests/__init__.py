"""Tests: core against the outside, web through Django's client, browser through Chromium."""
