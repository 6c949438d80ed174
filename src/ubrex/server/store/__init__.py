"""What is kept: peewee records, numbered migrations, and the one way to a connection."""
