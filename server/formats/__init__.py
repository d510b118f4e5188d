"""Reading and writing the open files. No database here: rows meet files in the apps' services."""
