package plenzo.demo;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * Every system of the sample world: for each site a database, a directory of published files and an
 * application host. Development and test have one site, production has the north and the south
 * terminal.
 */
public final class Places implements AutoCloseable {
  /** Sites with the name of their database. */
  public static final Map<String, String> SITES = new LinkedHashMap<>();

  static {
    SITES.put("development/main", "development");
    SITES.put("test/main", "test");
    SITES.put("production/north", "production");
    SITES.put("production/south", "south");
  }

  private final Cluster cluster;
  private final Path folder;
  private final Map<String, HostProcess> hosts = new LinkedHashMap<>();
  private final Letterbox letters = new Letterbox();

  /**
   * @param folder for what hosts and directories keep
   */
  public Places(Path folder, Cluster cluster) {
    this.folder = folder;
    this.cluster = cluster;
    SITES.forEach(
        (site, database) -> {
          HostProcess host =
              new HostProcess(
                  folder.resolve("host-" + database), cluster, database, database + "_look");
          hosts.put(site, host);
          FareDesk.furnish(host, database);
          FareDesk.publish(published(site));
        });
  }

  public Cluster cluster() {
    return cluster;
  }

  public HostProcess host(String site) {
    return Objects.requireNonNull(hosts.get(site));
  }

  /** The directory of published files. */
  public final Path published(String site) {
    return folder.resolve("files-" + SITES.get(site)).resolve("published");
  }

  /** Where letters arrive. */
  public Letterbox letters() {
    return letters;
  }

  /** Folder below which every directory and repository lies. */
  public Path root() {
    return folder;
  }

  /** Addresses that the service must be allowed to reach. */
  public List<String> destinations() {
    List<String> out = new ArrayList<>(List.of("127.0.0.1:" + cluster.port()));
    hosts.values().forEach(h -> out.add("127.0.0.1:" + h.port()));
    out.add("127.0.0.1:" + letters.port());
    return out;
  }

  @Override
  public void close() {
    hosts.values().forEach(HostProcess::close);
    letters.close();
  }
}
