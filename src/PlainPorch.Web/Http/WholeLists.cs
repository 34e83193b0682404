using System.Collections;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace PlainPorch.Web.Http;

/// <summary>
/// Refuses a null within a list whose type has room for none: the serializer looks at nullable annotations of properties, and not at
/// those of what lists hold.
/// </summary>
internal static class WholeLists
{
    private static readonly NullabilityInfoContext _annotations = new();

    /// <summary>Lets objects of a type be looked at once they are read.</summary>
    public static void Demand(JsonTypeInfo type)
    {
        if (type.Kind is not JsonTypeInfoKind.Object)
            return;
        var lists = type.Properties.Where(property => property.Get is not null && IsWhole(property)).ToList();
        if (lists.Count == 0)
            return;
        var before = type.OnDeserialized;
        type.OnDeserialized = read =>
        {
            before?.Invoke(read);
            foreach (var list in lists)
            {
                if (list.Get!(read) is IEnumerable values && values.Cast<object?>().Contains(null))
                    throw new JsonException($"The list “{list.Name}” must not hold null. Leave it out.");
            }
        };
    }

    private static bool IsWhole(JsonPropertyInfo property)
    {
        if (property.PropertyType == typeof(string) || property.AttributeProvider is not PropertyInfo declared)
            return false;
        // It caches as it looks, and is not made for several at once.
        lock (_annotations)
        {
            var annotation = _annotations.Create(declared);
            var element = annotation.ElementType ?? annotation.GenericTypeArguments.FirstOrDefault();
            return property.PropertyType.IsAssignableTo(typeof(IEnumerable))
                && !property.PropertyType.IsAssignableTo(typeof(IDictionary))
                && annotation.GenericTypeArguments.Length < 2
                && element is { ReadState: NullabilityState.NotNull, Type.IsValueType: false };
        }
    }
}
