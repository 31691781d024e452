package plenzo.server;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.context.properties.ConfigurationProperties;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * The one configuration file, under {@code plenzo}.
 *
 * @param dataDirectory where records, content and backups lie
 * @param keyFile the key of secrets, mode 600, outside the data directory; made when it is not
 *     there and no secrets exist
 * @param destinations hosts that Plenzo may speak to, "host:port", "*" allowed in the host; empty
 *     allows none
 * @param directories folders below which targets and repositories may lie; empty allows none
 * @param checks folder with jars that add checks of content; null for none
 * @param proxies addresses of proxies whose X-Forwarded-For and X-Forwarded-Proto are believed;
 *     empty believes none
 * @param adminPassword first password of the administrator; only for trying out, else one is made
 *     and told once
 * @param passwordCost how dear a guess at a stored password is, 10 to 16; each step doubles it
 * @param lookEvery how often the structure of every site is looked at for drift
 * @param lookAtRowsEvery how often its rows are looked at too, and editing stages for changes
 * @param lookAtSourcesEvery how often repositories are looked at for changes and new tags
 * @param reachedAt where people reach the console, for links in letters; empty: letters name pages
 *     alone
 * @param sampleClock a file with a duration (ISO 8601) by which the service's clock differs from
 *     the machine's; only for trying out: what it writes down then did not happen then
 * @param mail where letters are handed over; left out: none are sent
 */
@ConfigurationProperties(value = "plenzo", ignoreUnknownFields = false)
public record PlenzoSettings(
    @DefaultValue("data") Path dataDirectory,
    @DefaultValue("plenzo.key") Path keyFile,
    @DefaultValue List<String> destinations,
    @DefaultValue List<Path> directories,
    @Nullable Path checks,
    @DefaultValue List<String> proxies,
    @DefaultValue("") String adminPassword,
    @DefaultValue("12") int passwordCost,
    @DefaultValue("15m") Duration lookEvery,
    @DefaultValue("24h") Duration lookAtRowsEvery,
    @DefaultValue("5m") Duration lookAtSourcesEvery,
    @DefaultValue("") String reachedAt,
    @Nullable Path sampleClock,
    @Nullable MailServer mail) {
  /**
   * A mail server; it is reached where it is among the destinations.
   *
   * @param from address that letters come from
   * @param tls "none", "starttls" (a connection that is not made private is not used) or "tls"
   * @param account empty where it asks for none
   * @param passwordFile a file with its password, which nobody else may read
   */
  public record MailServer(
      String host,
      @DefaultValue("25") int port,
      String from,
      @DefaultValue("starttls") String tls,
      @DefaultValue("") String account,
      @Nullable Path passwordFile) {
    public MailServer {
      if (!List.of("none", "starttls", "tls").contains(tls)) {
        throw new IllegalArgumentException(
            "plenzo.mail.tls is \"" + tls + "\"; it can be none, starttls or tls.");
      }
    }
  }

  public PlenzoSettings {
    if (passwordCost < 10 || passwordCost > 16) {
      throw new IllegalArgumentException(
          "plenzo.password-cost is " + passwordCost + "; it can be 10 to 16.");
    }
  }
}
