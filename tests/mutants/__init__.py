"""Are the rules held by their tests? Numbers and comparisons are changed one at a time, and their tests run.

`./test --mutants [PACKAGE…]` prints the share that is noticed by package, and every change that is not.
"""
