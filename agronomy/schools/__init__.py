"""The schools: ways of going from a finding to a need. Each is a module with KEY, NAME, SAYS and needs() of one signature."""
