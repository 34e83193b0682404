using PlainPorch.Web;
using PlainPorch.Web.Imports;
using PlainPorch.Web.Survey;

if (args is ["survey", .. var rest])
    return await SurveyCommand.RunAsync(rest);

if (args is ["import", .. var files])
    return await ImportCommand.RunAsync(files);

try
{
    return await Start.RunAsync(args);
}
catch (WrongSettingException wrong)
{
    await Console.Error.WriteLineAsync(wrong.Message);
    return 1;
}
