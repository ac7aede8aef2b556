"""Says that a batch was begun, to the apps above that keep something of it from then on."""

from __future__ import annotations

from django.dispatch import Signal

batch_begun = Signal()
"""Sent within the transaction that begins a batch, with ``batch``."""
