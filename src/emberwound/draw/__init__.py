"""Figures and terminal views. Each takes a result and gives a drawing; nothing here simulates."""
