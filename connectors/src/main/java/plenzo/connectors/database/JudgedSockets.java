package plenzo.connectors.database;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketAddress;
import java.net.UnknownHostException;
import javax.net.SocketFactory;

/**
 * Sockets that go to one address, whatever the name beside it leads to by now: a name is asked for
 * once, when it is judged. Made by the driver, by its name and argument.
 */
public final class JudgedSockets extends SocketFactory {
  private final InetAddress judged;

  /**
   * @param address as digits
   * @throws UnknownHostException when it is none
   */
  public JudgedSockets(String address) throws UnknownHostException {
    this.judged = InetAddress.getByName(address);
  }

  @Override
  public Socket createSocket() {
    return new Socket() {
      @Override
      public void connect(SocketAddress asked, int timeout) throws IOException {
        int port = ((InetSocketAddress) asked).getPort();
        super.connect(new InetSocketAddress(judged, port), timeout);
      }
    };
  }

  private Socket connected(int port) throws IOException {
    return new Socket(judged, port);
  }

  @Override
  public Socket createSocket(String host, int port) throws IOException {
    return connected(port);
  }

  @Override
  public Socket createSocket(String host, int port, InetAddress from, int fromPort)
      throws IOException {
    return connected(port);
  }

  @Override
  public Socket createSocket(InetAddress host, int port) throws IOException {
    return connected(port);
  }

  @Override
  public Socket createSocket(InetAddress host, int port, InetAddress from, int fromPort)
      throws IOException {
    return connected(port);
  }
}
