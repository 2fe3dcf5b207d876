"""Papers that go out: quote, costing sheet, tables, messages."""
