"""The languages of the program: catalogues of phrases, and what says a text by them."""
