global using Row = System.Collections.Generic.Dictionary<string, object?>;
