.PHONY: demo test lock

demo:
	@tools/setup.sh run
	@exec .venv/bin/knead demo

test:
	@tools/test.sh

# Renew the locked Python requirements from pyproject.toml (needs the network).
LOCK = env -u PIP_FIND_LINKS .venv/bin/uv pip compile -q --python-version 3.11 --generate-hashes --no-annotate --no-header
lock:
	@$(LOCK) -o requirements.txt pyproject.toml
	@$(LOCK) --extra dev -o requirements-dev.txt pyproject.toml
