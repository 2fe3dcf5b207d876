"""Workings: how every figure of an estimate came about."""
