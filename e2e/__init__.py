"""The real interface in Chromium, against the real server: whole jobs as a person does them."""
