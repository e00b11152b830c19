"""Reports: results as sentences, tables and terminal views."""
