"""The demo data, made anew: ``python -m tools.demo.make_data``. What ships lies in src/vantric/demo/data."""
