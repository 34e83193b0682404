namespace PlainPorch.Web;

/// <summary>A setting is missing or wrong, and the server does not start. The message says which, and what to do.</summary>
internal sealed class WrongSettingException(string message) : Exception(message);

/// <summary>Reads settings that are numbers.</summary>
internal static class NumberSettings
{
    /// <summary>Reads a number.</summary>
    /// <param name="configuration">The settings.</param>
    /// <param name="name">The setting's name.</param>
    /// <param name="usual">The number where nothing is set.</param>
    /// <exception cref="WrongSettingException">It is no number.</exception>
    public static int ReadNumber(this IConfiguration configuration, string name, int usual) =>
        configuration[name] is not { Length: > 0 } text ? usual
        : int.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out var number) && number >= 0 ? number
        : throw new WrongSettingException($"{name} is {text}. Set it to a number.");
}
