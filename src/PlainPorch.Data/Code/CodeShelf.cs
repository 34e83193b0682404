using System.Reflection;
using System.Runtime.Loader;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Contract;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Code;

/// <summary>Where code of one's own is loaded from, and how long it may take.</summary>
/// <param name="Folder">The folder with its assemblies; null for none.</param>
/// <param name="Patience">How long a call within an act may take.</param>
/// <param name="PatienceAfterwards">How long a call after an act may take.</param>
public sealed record CodePlace(string? Folder, TimeSpan Patience, TimeSpan PatienceAfterwards)
{
    /// <summary>No code.</summary>
    public static CodePlace None { get; } = new(null, TimeSpan.FromSeconds(5), TimeSpan.FromSeconds(30));
}

/// <summary>An assembly of one's own.</summary>
/// <param name="File">The file's name.</param>
/// <param name="Version">The assembly's version; empty where it could not be read.</param>
/// <param name="Codes">What was found in it.</param>
/// <param name="Problem">Why it is not used; null where it is.</param>
public sealed record LoadedAssembly(string File, string Version, IReadOnlyList<LoadedCode> Codes, string? Problem);

/// <summary>A class of one's own.</summary>
/// <param name="Name">Its name, with its namespace.</param>
/// <param name="Table">The table whose records it is about.</param>
/// <param name="Column">The column for whose field it offers values, or that it computes; null for code about records.</param>
/// <param name="Type">The class.</param>
public sealed record LoadedCode(string Name, TableName Table, string? Column, Type Type)
{
    /// <summary>The columns that it needs to compute its own; null for code that computes none.</summary>
    public IReadOnlyList<string>? ToCompute { get; init; }
}

/// <summary>
/// The code of one's own, loaded once when the program starts. An assembly that cannot be used is named with the reason, and the others
/// are used.
/// </summary>
/// <param name="place">Where it is.</param>
/// <param name="services">What its classes may ask for.</param>
public sealed class CodeShelf(CodePlace place, IServiceProvider services)
{
    private readonly Lazy<IReadOnlyList<LoadedAssembly>> _assemblies = new(() => Load(place, services));
    private ILookup<TableName, LoadedCode>? _byTable;

    /// <summary>How long calls may take.</summary>
    public CodePlace Place => place;

    /// <summary>What was found in the folder, by the names of the files.</summary>
    public IReadOnlyList<LoadedAssembly> Assemblies => _assemblies.Value;

    /// <summary>The class that offers values for a field; null for none.</summary>
    public LoadedCode? For(TableName table, string column) => About(table, column).FirstOrDefault(code => code.ToCompute is null);

    /// <summary>The class that computes a column; null for none.</summary>
    public LoadedCode? Computing(TableName table, string column) =>
        About(table, column).FirstOrDefault(code => code.ToCompute is not null);

    /// <summary>The classes that compute columns of a table.</summary>
    public IReadOnlyList<LoadedCode> ComputingFor(TableName table) =>
        [.. Assemblies.SelectMany(assembly => assembly.Codes).Where(code => code.Table == table && code.ToCompute is not null)];

    private IEnumerable<LoadedCode> About(TableName table, string column) =>
        Assemblies.SelectMany(assembly => assembly.Codes).Where(code => code.Table == table && code.Column == column);

    /// <summary>The classes about a table's records, in the order of their files and names.</summary>
    public IReadOnlyList<LoadedCode> Of(TableName table) =>
        [
            .. (
                _byTable ??= Assemblies
                    .SelectMany(assembly => assembly.Codes)
                    .Where(code => code.Column is null)
                    .ToLookup(code => code.Table)
            )[table],
        ];

    /// <summary>Finds a class by its name.</summary>
    /// <returns>The class; null where none is loaded.</returns>
    public LoadedCode? Find(string name) =>
        Assemblies.SelectMany(assembly => assembly.Codes).FirstOrDefault(code => code.Name == name);

    private static IReadOnlyList<LoadedAssembly> Load(CodePlace place, IServiceProvider services)
    {
        if (place.Folder is not { } folder)
            return [];
        if (!Directory.Exists(folder))
            return [new LoadedAssembly(folder, "", [], "There is no such folder. Make it, or correct PORCH_CODE.")];
        return
        [
            .. Directory
                .EnumerateFiles(folder, "*.dll")
                .Order(StringComparer.Ordinal)
                .Select(file => Load(file, services))
                .OfType<LoadedAssembly>(),
        ];
    }

    // Null for an assembly that others bring along: it knows nothing of the contract.
    private static LoadedAssembly? Load(string file, IServiceProvider services)
    {
        var name = Path.GetFileName(file);
        if (name == Path.GetFileName(typeof(IRecordCode).Assembly.Location))
            return null;
        try
        {
            var assembly = new CodeContext(file).LoadFromAssemblyPath(Path.GetFullPath(file));
            var contract = typeof(IRecordCode).Assembly.GetName();
            if (assembly.GetReferencedAssemblies().FirstOrDefault(one => one.Name == contract.Name) is not { } built)
                return null;
            var version = assembly.GetName().Version?.ToString(3) ?? "";
            if (built.Version!.Major != contract.Version!.Major || built.Version > contract.Version)
                return new LoadedAssembly(
                    name,
                    version,
                    [],
                    $"It was built for version {built.Version.ToString(2)} of the contract, and this is {contract.Version.ToString(2)}. Build it anew."
                );
            var codes = assembly
                .GetExportedTypes()
                .Where(type => type is { IsClass: true, IsAbstract: false } && IsOurs(type))
                .OrderBy(type => type.FullName, StringComparer.Ordinal)
                .Select(type => Look(type, services))
                .ToList();
            return new LoadedAssembly(
                name,
                version,
                codes,
                codes.Count == 0 ? "It has no public class that implements IRecordCode, IValueCode or IColumnCode." : null
            );
        }
        catch (Exception failure)
        {
            // Whatever is wrong with it: the program goes on without it, and says so.
            return new LoadedAssembly(
                name,
                "",
                [],
                (failure as TargetInvocationException)?.InnerException?.Message ?? failure.Message
            );
        }
    }

    private static readonly Type[] _ours = [typeof(IRecordCode), typeof(IValueCode), typeof(IColumnCode)];

    private static bool IsOurs(Type type) => _ours.Any(type.IsAssignableTo);

    private static LoadedCode Look(Type type, IServiceProvider services)
    {
        using var scope = services.CreateScope();
        var (table, column, reads) = ActivatorUtilities.CreateInstance(scope.ServiceProvider, type) switch
        {
            IValueCode values => (values.Table, values.Column, null),
            IColumnCode computed => (computed.Table, computed.Column, computed.Reads),
            var other => (((IRecordCode)other).Table, (string?)null, (IReadOnlyList<string>?)null),
        };
        return table.Split('.') is [{ Length: > 0 } schema, { Length: > 0 } name]
            ? new LoadedCode(type.FullName!, new TableName(schema, name), column, type) { ToCompute = reads }
            : throw new InvalidOperationException($"{type.FullName} says that its table is “{table}”. Write schema.table.");
    }

    // What it brings along is its own; the contract and what the program has are shared.
    private sealed class CodeContext(string file) : AssemblyLoadContext(file)
    {
        private readonly AssemblyDependencyResolver _resolver = new(Path.GetFullPath(file));

        protected override Assembly? Load(AssemblyName assemblyName)
        {
            if (Default.Assemblies.Any(known => known.GetName().Name == assemblyName.Name))
                return null;
            return _resolver.ResolveAssemblyToPath(assemblyName) is { } path && !IsShared(assemblyName)
                ? LoadFromAssemblyPath(path)
                : null;
        }

        private static bool IsShared(AssemblyName name) =>
            name.Name == typeof(IRecordCode).Assembly.GetName().Name
            || name.Name?.StartsWith("Microsoft.Extensions.", StringComparison.Ordinal) == true;
    }
}
