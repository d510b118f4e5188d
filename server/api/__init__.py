"""HTTP: who may come in, problems, paging, and the page of the front end."""
