"""Going along with real days of use."""
