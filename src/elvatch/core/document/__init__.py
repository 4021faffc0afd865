"""What a recipe says: layers, rules, fits, marks, wear; its older versions; how new parts begin."""
