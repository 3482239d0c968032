"""Compiled kernels of the short tests: C of our own, built by set-up, called from a test's child process."""
