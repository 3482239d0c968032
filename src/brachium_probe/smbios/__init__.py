"""The firmware's own tables (SMBIOS): their form, their fields, their code numbers."""
