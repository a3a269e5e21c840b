.PHONY: demo test lock

demo:
	@tools/setup.sh run
	@exec .venv/bin/knead demo

test:
	@tools/test.sh

# Renew the locked Python requirements from pyproject.toml (needs the network).
lock:
	@.venv/bin/python -m venv .knead/lock && .knead/lock/bin/pip install -q pip-tools
	@env -u PIP_FIND_LINKS PIP_CONFIG_FILE=/dev/null .knead/lock/bin/pip-compile -q --generate-hashes --strip-extras \
		--no-emit-index-url --no-emit-find-links --no-annotate --allow-unsafe --no-header -o requirements.txt pyproject.toml
	@env -u PIP_FIND_LINKS PIP_CONFIG_FILE=/dev/null .knead/lock/bin/pip-compile -q --generate-hashes --strip-extras \
		--no-emit-index-url --no-emit-find-links --no-annotate --allow-unsafe --no-header --extra dev -o requirements-dev.txt pyproject.toml
