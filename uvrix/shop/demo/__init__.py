"""The demo shop: a made-up mail-in bench on a made-up island. Nothing in it is real."""
