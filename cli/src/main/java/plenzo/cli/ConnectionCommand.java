package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.ConnectionView;
import plenzo.api.Stages.Ready;
import plenzo.api.Stages.SaveConnection;

@Command(
    name = "connection",
    description = "Named ways to reach a system; secrets are write-only.",
    footer = {
      "",
      "Examples:",
      "  plenzo connection list --stage production",
      "  plenzo connection new production/files --leads-to directory --path /srv/fares/published",
      "  plenzo connection lend production/terminal --to fares"
    })
final class ConnectionCommand extends Group {
  private static final int POSTGRESQL = 5432;

  @Command(name = "list", description = "All connections with the result of their last test.")
  void list(@Option(names = "--stage") @Nullable String stage) {
    out()
        .list(
            "connections",
            api().list("/connections" + Api.query("stage", stage), ConnectionView.class),
            List.of("connection", "sort", "leads to", "lent to", "secret", "test"),
            c ->
                List.of(
                    c.stage() + "/" + c.name(),
                    c.sort(),
                    c.leadsTo(),
                    String.join(", ", c.lentTo()),
                    c.sort().equals("directory")
                        ? "needs none"
                        : c.hasSecret() ? "set by " + c.secretSetBy() : "not set",
                    c.test() == null
                        ? "not tested"
                        : out().state(c.test().good() ? "good" : "failed")
                            + " "
                            + out().time(c.test().at())));
  }

  @Command(
      name = "new",
      description = "Registers a connection; its password or token comes from standard input.",
      footer = {
        "",
        "Examples:",
        "  plenzo connection new test/db-look --host db.example --database app --account look < password.txt",
        "  plenzo connection new test/files --leads-to directory --path /srv/test/published",
        "  plenzo connection new test/host --leads-to host --host app.example --port 8443 < token.txt",
        "  plenzo connection new test/host --leads-to host --host app.example --port 8443 --sign-in certificate --authority ca.pem < key-and-certificate.pem"
      })
  void make(
      @Parameters(paramLabel = "STAGE/NAME") String id,
      @Option(
              names = "--leads-to",
              defaultValue = "postgresql",
              description = "postgresql, directory or host.")
          String sort,
      @Mixin Reach reach,
      @Option(
              names = "--lend-to",
              paramLabel = "APPLICATION",
              description =
                  "Which applications may name it in a binding; targets need no such leave.")
          @Nullable List<String> lent) {
    String[] at = place(id);
    boolean directory = sort.equals("directory");
    require(directory, reach.path, "--path");
    require(!directory, reach.host, "--host");
    require(sort.equals("postgresql"), reach.database, "--database");
    require(sort.equals("postgresql"), reach.account, "--account");
    ConnectionView c =
        api()
            .put(
                path(at),
                new SaveConnection(
                    at[1],
                    sort,
                    reach.host,
                    directory ? 0 : reach.port == null ? POSTGRESQL : reach.port,
                    reach.database,
                    reach.path,
                    reach.account,
                    directory ? "disable" : reach.tls == null ? "verify-full" : reach.tls,
                    reach.options(Map.of()),
                    lent,
                    directory ? null : top().standardInput(),
                    0),
                ConnectionView.class);
    out().line("Connection " + c.stage() + "/" + c.name() + " is registered.");
  }

  /** Where a connection leads, and how; null is left as it is. */
  static final class Reach {
    @Option(names = "--host", description = "Of a database or an application host.")
    @Nullable String host;

    @Option(names = "--port", description = "5432 when nothing is said.")
    @Nullable Integer port;

    @Option(names = "--database")
    @Nullable String database;

    @Option(names = "--account")
    @Nullable String account;

    @Option(
        names = "--path",
        description = "Folder of a directory; what stands before the protocol in a host's address.")
    @Nullable String path;

    @Option(
        names = "--mode",
        paramLabel = "exchange|in-place",
        description = "How a directory is switched; exchange is the default.")
    @Nullable String mode;

    @Option(
        names = "--longest-path",
        paramLabel = "BYTES",
        description = "Longest whole path that whoever reads the directory can bear.")
    @Nullable Integer longest;

    @Option(
        names = "--sign-in",
        paramLabel = "token|certificate",
        description =
            "How an application host is told who calls; for certificate, standard input holds a private key (PKCS#8) and its certificates in PEM.")
    @Nullable String signIn;

    @Option(
        names = "--authority",
        paramLabel = "FILE",
        description =
            "Certificates in PEM that a database or host is trusted by, instead of the machine's.")
    @Nullable Path authority;

    @Option(
        names = "--tls",
        paramLabel = "verify-full|require|disable",
        description = "verify-full is the default; disable only inside a network that is yours.")
    @Nullable String tls;

    /** The options as they were, with those that are named. */
    Map<String, String> options(Map<String, String> old) {
      Map<String, String> out = new TreeMap<>(old);
      put(out, "mode", mode);
      put(out, "longest-path", longest);
      put(out, "sign-in", signIn);
      if (authority != null) {
        try {
          out.put("authority", Files.readString(authority));
        } catch (IOException e) {
          throw Failed.usage("The file " + authority + " cannot be read.");
        }
      }
      return out;
    }

    private static void put(Map<String, String> to, String key, @Nullable Object value) {
      if (value != null) {
        to.put(key, String.valueOf(value));
      }
    }
  }

  private static String[] place(String id) {
    String[] at = id.split("/", 2);
    if (at.length < 2) {
      throw Failed.usage("A connection is written STAGE/NAME.");
    }
    return at;
  }

  private static String path(String[] at) {
    return "/connections/" + Api.encode(at[0]) + "/" + Api.encode(at[1]);
  }

  private static void require(boolean needed, @Nullable String value, String option) {
    if (needed && value == null) {
      throw Failed.usage("This sort of connection needs " + option + ".");
    }
  }

  @Command(
      name = "ready",
      description =
          "Makes a plain directory fit for being switched: it becomes a link to a tree. For a moment nobody finds it.")
  void ready(@Parameters(paramLabel = "STAGE/NAME") String id) {
    out().line(api().post(path(place(id)) + "/ready", Map.of(), Ready.class).done());
  }

  private ConnectionView find(String id) {
    String[] at = id.split("/", 2);
    return api().list("/connections" + Api.query("stage", at[0]), ConnectionView.class).stream()
        .filter(c -> at.length == 2 && c.name().equals(at[1]))
        .findFirst()
        .orElseThrow(
            () ->
                Failed.notFound(
                    "There is no connection \"" + id + "\".", "plenzo connection list"));
  }

  @Command(
      name = "lend",
      description = "Says which applications may name it in a binding; the whole list.",
      footer = {"", "Examples:", "  plenzo connection lend production/terminal --to fares"})
  void lend(
      @Parameters(paramLabel = "STAGE/NAME") String id,
      @Option(names = "--to", paramLabel = "APPLICATION", description = "None: nobody any more.")
          @Nullable List<String> to) {
    ConnectionView old = find(id);
    List<String> lent = to == null ? List.of() : to;
    api()
        .put(
            "/connections/" + Api.encode(old.stage()) + "/" + Api.encode(old.name()),
            new SaveConnection(
                old.name(),
                old.sort(),
                old.host(),
                old.port(),
                old.database(),
                old.path(),
                old.account(),
                old.tls(),
                old.options(),
                lent,
                null,
                old.revision()),
            ConnectionView.class);
    out()
        .line(
            "Connection "
                + id
                + (lent.isEmpty()
                    ? " is lent to nobody."
                    : " is lent to " + String.join(", ", lent) + "."));
  }

  @Command(
      name = "change",
      description = {
        "Changes where it leads, or how. Another place, account, authority or TLS clears its secret and",
        "its test: give the secret again with --secret-stdin, and test the site."
      },
      footer = {
        "",
        "Examples:",
        "  plenzo connection change test/look --tls disable --secret-stdin < password.txt",
        "  plenzo connection change production/host --authority ca.pem --secret-stdin < token.txt"
      })
  void change(
      @Parameters(paramLabel = "STAGE/NAME") String id,
      @Mixin Reach reach,
      @Option(names = "--secret-stdin", description = "Read its secret from standard input.")
          boolean secret) {
    ConnectionView old = find(id);
    ConnectionView now =
        api()
            .put(
                path(place(id)),
                new SaveConnection(
                    old.name(),
                    old.sort(),
                    reach.host == null ? old.host() : reach.host,
                    reach.port == null ? old.port() : reach.port,
                    reach.database == null ? old.database() : reach.database,
                    reach.path == null ? old.path() : reach.path,
                    reach.account == null ? old.account() : reach.account,
                    reach.tls == null ? old.tls() : reach.tls,
                    reach.options(old.options()),
                    old.lentTo(),
                    secret ? top().standardInput() : null,
                    old.revision()),
                ConnectionView.class);
    out().line("Connection " + id + " is changed.");
    if (old.hasSecret() && !now.hasSecret()) {
      out()
          .note(
              "It has no secret any more. Next: plenzo connection change "
                  + id
                  + " --secret-stdin < FILE");
    }
  }
}
