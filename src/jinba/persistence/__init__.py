"""PostgreSQL through SQLAlchemy: tables, one repository per noun, migrations."""
