"""The made-up school of Fennick Bay, put together through the same services that the screens call.

``world`` holds what is told, ``build`` how it gets into the database. Every figure and person is invented.
"""
