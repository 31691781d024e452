package plenzo.core.target;

/** How to reach a target with one account. The secret never appears in its text form. */
public record Access(
    String host, int port, String database, String account, String tls, String secret) {
  @Override
  public String toString() {
    return account + "@" + host + ":" + port + "/" + database;
  }
}
