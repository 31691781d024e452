package plenzo.core.stage;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A stage's (or one site's) value for a declared input. Exactly one of value, secret and connection
 * is set.
 *
 * @param site empty for every site of the stage; a site's own binding goes before
 * @param value plain value, null for others
 * @param secret true when the value is kept encrypted and never shown
 * @param connection name of one of the stage's connections, null for others
 * @param revision rises with every change; part of the plan's fingerprint
 */
public record Binding(
    String application,
    String stage,
    String site,
    String input,
    @Nullable String value,
    boolean secret,
    @Nullable String connection,
    Instant setAt,
    String setBy,
    int revision) {
  public static String id(String application, String stage, String site, String input) {
    return application + "@" + stage + (site.isEmpty() ? "" : "/" + site) + "#" + input;
  }

  public Binding revision(int now) {
    return new Binding(
        application, stage, site, input, value, secret, connection, setAt, setBy, now);
  }

  /** Of an id the input that is bound; a default is known by its input's name alone. */
  public static String input(String id) {
    return id.substring(id.indexOf('#') + 1);
  }

  /** {@code fares@production/north#terminal-address}. */
  public String id() {
    return id(application, stage, site, input);
  }

  /** Where it is set: stage, or stage/site. */
  public String place() {
    return stage + (site.isEmpty() ? "" : "/" + site);
  }

  /** What people see of it. */
  public String shown() {
    return secret ? "(secret)" : connection != null ? "connection " + connection : value + "";
  }
}
