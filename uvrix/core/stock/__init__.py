"""Stock: lots and what their history says, whether a part fits, donors."""
