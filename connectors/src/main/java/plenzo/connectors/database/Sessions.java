package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.postgresql.ssl.DefaultJavaSSLFactory;
import plenzo.connectors.database.sql.Alone;
import plenzo.core.component.TableName;
import plenzo.core.target.Access;
import plenzo.core.target.TargetFailed;

/**
 * The one place that opens database sessions. Every setting that changes what is read or written is
 * set here and read back, so that neither a role, a database nor this machine can change a digest.
 */
final class Sessions {
  /** How long a session waits for others before a statement is refused. */
  static final Duration WAITING = Duration.ofSeconds(3);

  /** Host names and addresses only: the URL is built from fields, never taken from people. */
  private static final Pattern HOST = Pattern.compile("[A-Za-z0-9.:_-]{1,253}");

  private static final Map<String, String> SETTINGS = new LinkedHashMap<>();

  static {
    SETTINGS.put("search_path", "pg_catalog, pg_temp");
    SETTINGS.put("row_security", "off");
    SETTINGS.put("TimeZone", "UTC");
    SETTINGS.put("DateStyle", "ISO, MDY");
    SETTINGS.put("IntervalStyle", "postgres");
    SETTINGS.put("bytea_output", "hex");
    SETTINGS.put("extra_float_digits", "1");
    SETTINGS.put("lc_monetary", "C");
    SETTINGS.put("client_encoding", "UTF8");
    SETTINGS.put("synchronous_commit", "on");
    SETTINGS.put("standard_conforming_strings", "on");
    SETTINGS.put("check_function_bodies", "off");
    SETTINGS.put("client_connection_check_interval", "2s");
    SETTINGS.put("idle_in_transaction_session_timeout", "15min");
    SETTINGS.put("lock_timeout", WAITING.toSeconds() + "s");
  }

  private Sessions() {}

  /**
   * @param purpose shown in the target's list of sessions
   * @param statementTimeout as PostgreSQL writes it, "10min"
   * @throws TargetFailed when it cannot be reached or a setting does not hold
   */
  static Connection open(Access access, String purpose, String statementTimeout) {
    if (!HOST.matcher(access.host()).matches()) {
      throw new IllegalArgumentException("Not a host name: \"" + access.host() + "\"");
    }
    Properties p = new Properties();
    p.setProperty("user", access.account());
    p.setProperty("password", access.secret());
    p.setProperty("sslmode", access.tls());
    trust(access, p);
    p.setProperty("ApplicationName", "plenzo " + purpose);
    p.setProperty("connectTimeout", "5");
    p.setProperty("loginTimeout", "10");
    p.setProperty("tcpKeepAlive", "true");
    p.setProperty("prepareThreshold", "0");
    if (!access.addresses().isEmpty()) {
      // the name stands in the URL for the certificate alone
      p.setProperty("socketFactory", JudgedSockets.class.getName());
      p.setProperty("socketFactoryArg", access.addresses().get(0));
    }
    String host = access.host().contains(":") ? "[" + access.host() + "]" : access.host();
    String url =
        "jdbc:postgresql://"
            + host
            + ":"
            + access.port()
            + "/"
            + java.net.URLEncoder.encode(
                access.database(), java.nio.charset.StandardCharsets.UTF_8);
    try {
      Connection c = DriverManager.getConnection(url, p);
      try {
        set(c, statementTimeout);
        return c;
      } catch (SQLException | RuntimeException e) {
        c.close();
        throw e;
      }
    } catch (SQLException e) {
      throw failed("Cannot reach " + access, e);
    }
  }

  /**
   * By whose word a server is believed: the connection's own authority, else those that this
   * machine's Java trusts; the driver alone would look for a file in somebody's home. "require"
   * without an authority believes every certificate.
   */
  private static void trust(Access access, Properties p) {
    String authority = access.options().getOrDefault("authority", "");
    if (access.tls().equals("disable")) {
      return;
    }
    if (!authority.isEmpty()) {
      p.setProperty("sslfactory", AuthoritySockets.class.getName());
      p.setProperty("sslfactoryarg", authority);
    } else if (access.tls().equals("verify-full")) {
      p.setProperty("sslfactory", DefaultJavaSSLFactory.class.getName());
    }
  }

  private static void set(Connection c, String statementTimeout) throws SQLException {
    String set =
        SETTINGS.entrySet().stream()
            .map(e -> "pg_catalog.set_config('" + e.getKey() + "', '" + e.getValue() + "', false)")
            .collect(Collectors.joining(", "));
    String read =
        SETTINGS.keySet().stream()
            .map(k -> "pg_catalog.current_setting('" + k + "')")
            .collect(Collectors.joining(", "));
    try (Statement s = c.createStatement()) {
      s.execute(
          "SELECT "
              + set
              + ", pg_catalog.set_config('statement_timeout', '"
              + statementTimeout
              + "', false)");
      try (ResultSet r = s.executeQuery("SELECT " + read)) {
        r.next();
        int i = 0;
        for (Map.Entry<String, String> e : SETTINGS.entrySet()) {
          if (!r.getString(++i).equals(e.getValue())) {
            throw new TargetFailed(
                "The setting "
                    + e.getKey()
                    + " does not hold ("
                    + r.getString(i)
                    + " instead of "
                    + e.getValue()
                    + "): is there a pooler in between?",
                false,
                new SQLException());
          }
        }
      }
    }
  }

  /**
   * Bounds how long the session waits for one answer; 0 waits for ever.
   *
   * @throws SQLException when the session is closed
   */
  static void patience(Connection connection, Duration longest) throws SQLException {
    connection.setNetworkTimeout(Runnable::run, (int) longest.toMillis());
  }

  /** How long the session waits for others before a statement is refused. */
  static void waiting(Connection connection, Duration longest) throws SQLException {
    try (Statement s = connection.createStatement()) {
      s.execute("SET lock_timeout = " + longest.toMillis());
    }
  }

  /** Tables of the session's database from which others inherit. */
  static Alone alone(Connection connection) throws SQLException {
    List<TableName> out = new ArrayList<>();
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(Alone.PARENTS)) {
      while (r.next()) {
        out.add(new TableName(r.getString(1), r.getString(2)));
      }
    }
    return Alone.of(out);
  }

  /** Ends a session from another thread without asking the server. */
  static void cut(Connection connection) {
    try {
      connection.abort(Runnable::run);
    } catch (SQLException e) {
      throw failed("Cannot cut the session", e);
    }
  }

  /**
   * Wraps a driver error: class 08 and 57P0x mean that the server was not reachable or went away.
   */
  static TargetFailed failed(String what, SQLException e) {
    String state = e.getSQLState();
    boolean unreachable = state == null || state.startsWith("08") || state.startsWith("57P");
    return new TargetFailed(what + ": " + String.valueOf(e.getMessage()).strip(), unreachable, e);
  }
}
