// A run that is over.
feed(JSON.parse(document.getElementById("run").textContent));
