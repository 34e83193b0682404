using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Tests.Api;
using PlainPorch.Data.Tests.Removal;

namespace PlainPorch.Data.Tests.Acts;

/// <summary>A source on a server of its own, which Plain Porch reaches by way of a proxy.</summary>
public sealed class FaultFixture : IAsyncLifetime
{
    // As long as this an answer is waited for.
    private const int Seconds = 1;

    private readonly OwnServer _server = new();

    public FaultProxy Proxy { get; private set; } = null!;

    public RemovalFixture Yard { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        await _server.StartAsync();
        Proxy = new FaultProxy(_server.Port);
        Yard = new RemovalFixture
        {
            Api = new ApiFixture
            {
                Zoo = new TestDatabase { At = _server.ConnectionString },
                SourcePort = Proxy.Port,
                Replaced = services =>
                    services.Replace(
                        ServiceDescriptor.Singleton<SourceConnector>(
                            (settings, isReadOnly) => SourceConnection.Create(settings, isReadOnly, seconds: Seconds)
                        )
                    ),
            },
        };
        await Yard.InitializeAsync();
    }

    public async ValueTask DisposeAsync()
    {
        await Yard.DisposeAsync();
        await Proxy.DisposeAsync();
        await _server.DisposeAsync();
    }

    /// <summary>Lets the next COMMIT go wrong.</summary>
    public async Task ArmAsync(Fault fault)
    {
        await _server.SetLossyAsync(fault is Fault.ServerEndedWithLoss);
        Proxy.EndServer = async () =>
        {
            await _server.CrashAsync(losesNumbersFor: fault is Fault.ServerEndedWithLoss ? 12 : 0);
            // The tests' own look at the source begins anew.
            Yard.Api.Zoo.Source.Clear();
        };
        Proxy.Arm(fault);
    }
}
