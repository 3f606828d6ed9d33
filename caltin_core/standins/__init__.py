"""Small simulated stand-ins for what is not in the machine: a sheet one draws patches on."""
