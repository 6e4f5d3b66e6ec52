"""Scripts that measure. They are run by hand, not by the tests: a busy machine is no broken rule."""
