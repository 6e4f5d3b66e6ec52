"""The real interface in headless Chromium, against a real server process on the test database.

browser    a browser, and words for what a person does in it
served     a server process that tests can also kill
shots      the pictures in docs/screenshots
"""
