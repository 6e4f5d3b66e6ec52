"""What a server shows to the network of a school before anybody comes in.

Under which addresses it is reached, codes for cameras, certificates of its own, and the page that says how a tablet
comes to trust them.

Knows neither the web framework nor the database: ``./girder start --share`` asks it before there is a server.
"""
