package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Connection;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.Connector.Trial;
import plenzo.core.target.Connector.Use;
import plenzo.core.target.ItemsConnector;
import plenzo.core.target.Probe;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** Connections of stages: registered, changed, tested on the spot, made ready. */
public final class Connections {
  private static final int LONGEST_AUTHORITY = 64 << 10;

  private final Tools tools;
  private final Destinations allowed;

  public Connections(Tools tools, Destinations allowed) {
    this.tools = tools;
    this.allowed = allowed;
  }

  public List<Connection> list(Person by, @Nullable String stage) {
    return tools
        .keeper()
        .read(kept -> kept.connections().list(Kept.Filter.all().stage(stage)))
        .stream()
        .filter(c -> by.may(Right.LOOK, c.stage(), Person.ANY))
        .sorted(java.util.Comparator.comparing(Connection::id))
        .toList();
  }

  /**
   * Adds or changes a connection. Changing where it leads, or whose word is taken for it, clears
   * its secret and its test.
   *
   * @param secret the new password, or null to leave it
   */
  public Connection save(Person by, Connection asked, @Nullable String secret) {
    Rights.require(by, Right.OPERATE, asked.stage(), Person.EVERY);
    if (!asked.name().matches("[a-z][a-z0-9-]{0,39}")) {
      throw Problem.invalid(
          "NAME", "A connection's name is lower-case letters, digits and hyphens.", "/name");
    }
    if (!List.of("disable", "require", "verify-full").contains(asked.tls())) {
      throw Problem.invalid("TLS", "TLS is disable, require or verify-full.", "/tls");
    }
    tools.connector(asked.sort());
    if (!List.of("token", "certificate").contains(asked.options().getOrDefault("sign-in", "token"))
        || asked.options().getOrDefault("authority", "").length() > LONGEST_AUTHORITY) {
      throw Problem.invalid(
          "OPTIONS",
          "sign-in is token or certificate, and authority certificates in PEM of up to 64 KiB.",
          "/options");
    }
    boolean folder = asked.sort().equals("directory");
    if (!folder && !Connection.isHost(asked.host())) {
      throw Problem.invalid("HOST", "A host is a name or an address, without its port.", "/host");
    }
    if (!folder && !Connection.isPath(asked.path())) {
      throw Problem.invalid(
          "PATH",
          "A path is empty or begins with /, of letters, digits, dots, hyphens, underscores and tildes.",
          "/path");
    }
    String refusal =
        folder ? allowed.refusal(asked.path()) : allowed.refusal(asked.host(), asked.port());
    if (refusal != null) {
      throw Problem.invalid("DESTINATION", refusal, folder ? "/path" : "/host");
    }
    return tools
        .keeper()
        .write(
            kept -> {
              kept.stages()
                  .find(asked.stage())
                  .orElseThrow(() -> Problem.notFound("stage", asked.stage()));
              Connection old = kept.connections().find(asked.id()).orElse(null);
              boolean elsewhere =
                  old != null
                      && (!old.leadsTo().equals(asked.leadsTo())
                          || !authority(old).equals(authority(asked)));
              boolean otherwise = old != null && !old.options().equals(asked.options());
              if (old != null && asked.revision() == 0) {
                throw Problem.invalid(
                    "TAKEN",
                    "There is already a connection "
                        + asked.id()
                        + ", to "
                        + old.leadsTo()
                        + "; change it instead.",
                    "/name");
              }
              if (elsewhere) {
                RunsOn.refuse(kept, asked.stage(), asked.name());
              }
              boolean keeps = old != null && old.hasSecret() && !elsewhere && secret == null;
              Connection now =
                  new Connection(
                      asked.stage(),
                      asked.name(),
                      asked.sort(),
                      asked.host(),
                      asked.port(),
                      asked.database(),
                      asked.path(),
                      asked.account(),
                      asked.tls(),
                      asked.options(),
                      asked.lentTo(),
                      secret != null || keeps,
                      secret != null
                          ? Objects.requireNonNull(tools.now())
                          : keeps ? old.secretSetAt() : null,
                      secret != null ? by.login() : keeps ? old.secretSetBy() : null,
                      elsewhere || otherwise || secret != null || old == null ? null : old.test(),
                      old == null ? 0 : asked.revision());
              if (secret != null || elsewhere) {
                kept.secrets().remove(asked.id());
              }
              if (secret != null) {
                kept.secrets()
                    .insert(
                        new Kept.Secret(
                            asked.id(),
                            tools.vault().encrypt(asked.id(), secret),
                            tools.vault().keyId(),
                            0));
              }
              if (old == null) {
                kept.connections().insert(now);
              } else if (!kept.connections().update(now)) {
                throw Problem.changed(
                    "CHANGED",
                    "Somebody else changed the connection " + asked.id() + " meanwhile.",
                    "Look again, then change it");
              }
              kept.note(
                  Stages.event(
                      by,
                      old == null ? "connection registered" : "connection changed",
                      asked.stage(),
                      asked.id()
                          + (elsewhere ? " led to " + old.leadsTo() + " and" : "")
                          + " leads to "
                          + asked.leadsTo()
                          + (asked.lentTo().isEmpty()
                              ? ""
                              : ", lent to " + String.join(", ", asked.lentTo()))
                          + (secret == null ? "" : ", secret set")),
                  tools.now());
              return kept.connections().find(asked.id()).orElseThrow();
            });
  }

  /** Who is believed to be the target: a secret is for nobody whom somebody else vouches for. */
  private static String authority(Connection c) {
    return c.options().getOrDefault("authority", "");
  }

  /**
   * Makes a plain target fit for being switched; a step of its own because it costs a moment in
   * which nobody finds what is published.
   */
  public String makeReady(Person by, String stage, String name) {
    Rights.require(by, Right.OPERATE, stage, Person.EVERY);
    Connection c =
        tools
            .keeper()
            .read(kept -> kept.connections().find(stage + "/" + name))
            .orElseThrow(() -> Problem.notFound("connection", stage + "/" + name));
    if (!(tools.connector(c.sort()) instanceof ItemsConnector items)) {
      throw Problem.invalid("SORT", c.id() + " is a database and needs nothing.", "/name");
    }
    // noted first: what was done at a target can never be missing in the history
    note(by, "making ready", stage, c.id());
    String done = items.makeReady(new Targets(tools, allowed).access(stage, name));
    note(by, "made ready", stage, c.id() + ": " + done);
    return done;
  }

  private void note(Person by, String what, String stage, String text) {
    tools.keeper().write(kept -> kept.note(Stages.event(by, what, stage, text), tools.now()));
  }

  /** Tests every connection of a site and remembers what was found. */
  public List<Connection> testSite(Person by, SiteKey site) {
    if (!by.may(Right.OPERATE, site.stage(), Person.EVERY)
        && !by.may(Right.PREPARE, site.stage(), Person.ANY)) {
      Rights.require(by, Right.OPERATE, site.stage(), Person.EVERY);
    }
    Stage stage = Stages.get(tools, by, site.stage());
    Stage.Site s =
        stage.site(site.site()).orElseThrow(() -> Problem.notFound("site", site.toString()));
    List<Connection> out = new ArrayList<>();
    for (Stage.Target t : s.targets()) {
      TargetIdentity expected =
          new TargetIdentity(
              tools.keeper().service(),
              site.stage(),
              site.site(),
              t.requireId().text(),
              tools.now());
      boolean source = stage.role() == Stage.Role.DEVELOPMENT;
      boolean changes = !t.changing().isEmpty() && !source;
      if (!changes || !t.changing().equals(t.looking())) {
        out.add(test(stage.key(), t.looking(), t, Use.LOOKING, expected));
      }
      if (changes) {
        out.add(test(stage.key(), t.changing(), t, Use.CHANGING, expected));
      }
      if (!t.scratch().isEmpty()) {
        out.add(test(stage.key(), t.scratch(), t, Use.SCRATCH, null));
      }
    }
    return out;
  }

  /** The account that looks at what the changing one makes. */
  private String reader(String stage, Stage.Target target, Use use) {
    return use != Use.CHANGING
        ? ""
        : tools
            .keeper()
            .read(kept -> kept.connections().find(stage + "/" + target.looking()))
            .map(Connection::account)
            .orElse("");
  }

  private Connection test(
      String stage, String name, Stage.Target target, Use use, @Nullable TargetIdentity expected) {
    Targets targets = new Targets(tools, allowed);
    List<Probe> probes;
    try {
      probes =
          tools
              .connector(target.sort())
              .test(
                  targets.access(stage, name),
                  new Trial(use, targets.schemas(target), expected, reader(stage, target, use)));
    } catch (TargetFailed e) {
      probes =
          List.of(
              new Probe(
                  "destination",
                  false,
                  String.valueOf(e.getMessage()),
                  "Add it to plenzo.destinations or plenzo.directories of the configuration file, and start the service anew"));
    } catch (Problem e) {
      probes =
          List.of(
              new Probe(
                  "settings",
                  false,
                  String.valueOf(e.getMessage()),
                  e.next().isEmpty() ? "" : e.next().get(0)));
    }
    Connection.Test test =
        new Connection.Test(tools.now(), probes.stream().allMatch(Probe::good), probes);
    return tools
        .keeper()
        .write(
            kept -> {
              Connection c =
                  kept.connections()
                      .find(stage + "/" + name)
                      .orElseThrow(() -> Problem.notFound("connection", stage + "/" + name));
              kept.connections().replace(c.withTest(test));
              return c.withTest(test);
            });
  }
}
