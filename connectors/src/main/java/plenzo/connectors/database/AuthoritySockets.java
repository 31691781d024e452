package plenzo.connectors.database;

import org.postgresql.ssl.WrappedFactory;
import plenzo.hostprotocol.ClientTls;

/**
 * TLS to servers whose certificate one authority signed, whatever else this machine trusts. Made by
 * the driver, by its name and argument.
 */
public final class AuthoritySockets extends WrappedFactory {
  /**
   * @param authority certificates in PEM
   * @throws IllegalArgumentException when it holds none
   */
  public AuthoritySockets(String authority) {
    factory = ClientTls.context(authority, "").getSocketFactory();
  }
}
