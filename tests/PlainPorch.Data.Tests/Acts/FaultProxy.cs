using System.Net;
using System.Net.Sockets;

namespace PlainPorch.Data.Tests.Acts;

/// <summary>What goes wrong at a COMMIT.</summary>
public enum Fault
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>The request is lost, and the line stays open.</summary>
    RequestDropped,

    /// <summary>The line is cut before the request gets through.</summary>
    LineCut,

    /// <summary>The answer is lost, and the line is cut.</summary>
    AnswerDropped,

    /// <summary>The answer does not come as long as anybody waits for it.</summary>
    AnswerStalled,

    /// <summary>The server ends right after it has committed, and starts again; what it has answered is on disk.</summary>
    ServerEnded,

    /// <summary>The same, and what it has committed was not on disk; its number is given to others afterwards.</summary>
    ServerEndedWithLoss,
}

/// <summary>Stands between Plain Porch and a source, and lets one COMMIT after another go wrong.</summary>
public sealed class FaultProxy : IAsyncDisposable
{
    // Npgsql sends it as a simple query of its own.
    private static readonly byte[] _commit = [(byte)'Q', 0, 0, 0, 11, .. "COMMIT\0"u8];

    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly CancellationTokenSource _end = new();
    private readonly int _target;
    private readonly Task _accepting;
    private int _fault;

    public FaultProxy(int target)
    {
        _target = target;
        _listener.Start();
        _accepting = AcceptAsync();
    }

    /// <summary>Where it listens.</summary>
    public int Port => ((IPEndPoint)_listener.LocalEndpoint).Port;

    /// <summary>Ends the server, once the answer to a COMMIT is there.</summary>
    public Func<Task> EndServer { get; set; } = () => Task.CompletedTask;

    /// <summary>How many faults have come about.</summary>
    public int Happened { get; private set; }

    /// <summary>Lets the next COMMIT go wrong.</summary>
    public void Arm(Fault fault) => Interlocked.Exchange(ref _fault, (int)fault);

    public async ValueTask DisposeAsync()
    {
        await _end.CancelAsync();
        _listener.Stop();
        await _accepting;
        _end.Dispose();
    }

    private async Task AcceptAsync()
    {
        try
        {
            while (true)
                _ = ServeAsync(await _listener.AcceptTcpClientAsync(_end.Token));
        }
        catch (Exception stopped) when (stopped is OperationCanceledException or SocketException)
        {
            // The test is over.
        }
    }

    private async Task ServeAsync(TcpClient client)
    {
        using var line = CancellationTokenSource.CreateLinkedTokenSource(_end.Token);
        using (client)
        using (var server = new TcpClient { NoDelay = true })
        {
            client.NoDelay = true;
            try
            {
                await server.ConnectAsync(IPAddress.Loopback, _target, line.Token);
                var pending = new Pending();
                await Task.WhenAny(
                    ForwardAsync(client.GetStream(), server.GetStream(), pending, line.Token),
                    ReturnAsync(server.GetStream(), client.GetStream(), pending, line.Token)
                );
            }
            catch (Exception broken) when (broken is IOException or SocketException or OperationCanceledException)
            {
                // One of the two is gone; so is the line.
            }

            await line.CancelAsync();
        }
    }

    private async Task ForwardAsync(NetworkStream from, NetworkStream to, Pending pending, CancellationToken cancellationToken)
    {
        var buffer = new byte[65_536];
        while (await from.ReadAsync(buffer, cancellationToken) is > 0 and var count)
        {
            if (
                buffer.AsSpan(0, count).IndexOf(_commit) >= 0
                && (Fault)Interlocked.Exchange(ref _fault, 0) is not Fault.None and var fault
            )
            {
                Happened++;
                pending.Fault = fault;
                if (fault is Fault.LineCut)
                    return;
                if (fault is Fault.RequestDropped)
                    continue;
            }

            await to.WriteAsync(buffer.AsMemory(0, count), cancellationToken);
        }
    }

    private async Task ReturnAsync(NetworkStream from, NetworkStream to, Pending pending, CancellationToken cancellationToken)
    {
        var buffer = new byte[65_536];
        while (await from.ReadAsync(buffer, cancellationToken) is > 0 and var count)
        {
            switch (pending.Fault)
            {
                case Fault.AnswerDropped:
                    return;
                case Fault.AnswerStalled:
                    continue;
                case Fault.ServerEnded or Fault.ServerEndedWithLoss:
                    await EndServer();
                    return;
                default:
                    await to.WriteAsync(buffer.AsMemory(0, count), cancellationToken);
                    break;
            }
        }
    }

    private sealed class Pending
    {
        public Fault Fault { get; set; }
    }
}
