"""Designs: files, words, their paths and facts."""
