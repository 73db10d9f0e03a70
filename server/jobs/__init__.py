"""Computations that workers do: asked for once, merged, bounded, fair between people, and kept for whoever asks
again.
"""
