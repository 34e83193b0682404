using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Removal;

/// <summary>
/// Puts tables into the order in which their rows can be deleted: what refers to others by a declared key before what it refers
/// to.
/// Tables that refer to each other in a circle make one group (a strongly connected component, found by Tarjan's algorithm of
/// 1972),
/// whose rows can only be deleted by one statement.
/// </summary>
public static class RemovalOrder
{
    /// <summary>Orders tables.</summary>
    /// <param name="tables">The tables.</param>
    /// <returns>Groups, in the order of deleting; the other way round it is the order of bringing back.</returns>
    public static IReadOnlyList<IReadOnlyList<TableName>> Of(IReadOnlyList<Table> tables)
    {
        ArgumentNullException.ThrowIfNull(tables);
        return new Components(tables).Find();
    }

    private sealed class Components(IReadOnlyList<Table> tables)
    {
        private readonly Dictionary<TableName, Table> _tables = tables.ToDictionary(table => table.Name);
        private readonly Dictionary<TableName, int> _number = [];
        private readonly Dictionary<TableName, int> _lowest = [];
        private readonly Stack<TableName> _open = [];
        private readonly HashSet<TableName> _isOpen = [];
        private readonly List<IReadOnlyList<TableName>> _groups = [];

        // A group is finished after all that it refers to, so the last one refers to none of the others' rows: turned round.
        public List<IReadOnlyList<TableName>> Find()
        {
            foreach (var table in _tables.Keys.Where(table => !_number.ContainsKey(table)))
                Visit(table);
            _groups.Reverse();
            return _groups;
        }

        private void Visit(TableName table)
        {
            _number[table] = _lowest[table] = _number.Count;
            _open.Push(table);
            _isOpen.Add(table);
            foreach (var target in _tables[table].ForeignKeys.Select(key => key.ReferredTable).Where(_tables.ContainsKey))
            {
                if (!_number.TryGetValue(target, out var number))
                {
                    Visit(target);
                    _lowest[table] = Math.Min(_lowest[table], _lowest[target]);
                }
                else if (_isOpen.Contains(target))
                {
                    _lowest[table] = Math.Min(_lowest[table], number);
                }
            }

            if (_lowest[table] == _number[table])
                _groups.Add(Close(table));
        }

        private List<TableName> Close(TableName first)
        {
            var group = new List<TableName>();
            TableName member;
            do
            {
                member = _open.Pop();
                _isOpen.Remove(member);
                group.Add(member);
            } while (member != first);
            return group;
        }
    }
}
