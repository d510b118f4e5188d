"""Carriers: tariff versions and bought labels."""
