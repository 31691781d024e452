package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.source.Repository;
import plenzo.core.stage.Application;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.Connector.Use;
import plenzo.core.target.ItemsConnector;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** Registers stages with their sites and targets, connections, paths and applications. */
public final class Setup {
  private static final int LONGEST_AUTHORITY = 64 << 10;

  private final Tools tools;
  private final Destinations allowed;

  /** Which destinations the configuration file allows; deny by default. */
  public interface Destinations {
    /** Why the destination is refused, or null when it is allowed. */
    @Nullable String refusal(String host, int port);

    /** Why the folder is refused, or null when it lies below a configured one. */
    @Nullable String refusal(String folder);
  }

  public Setup(Tools tools, Destinations allowed) {
    this.tools = tools;
    this.allowed = allowed;
  }

  private static <T> T checked(java.util.function.Supplier<T> make, String field) {
    try {
      return make.get();
    } catch (IllegalArgumentException | java.time.DateTimeException e) {
      throw Problem.invalid("INVALID", String.valueOf(e.getMessage()), field);
    }
  }

  public List<Stage> stages(Person by) {
    return tools.keeper().read(kept -> kept.stages().all()).stream()
        .filter(s -> by.may(Right.LOOK, s.key(), "*"))
        .sorted(java.util.Comparator.comparingInt(Stage::position).thenComparing(Stage::key))
        .toList();
  }

  public Stage stage(Person by, String key) {
    return tools
        .keeper()
        .read(kept -> kept.stages().find(key))
        .filter(s -> by.may(Right.LOOK, key, "*"))
        .orElseThrow(() -> Problem.notFound("stage", key));
  }

  /** Adds a stage, or replaces the one of that key when {@code revision} is the present one. */
  public Stage saveStage(Person by, Stage asked) {
    Rights.require(by, Right.ADMINISTER, asked.key(), "*");
    return tools
        .keeper()
        .write(
            kept -> {
              for (Stage.Site site : asked.sites()) {
                site.targets().forEach(t -> tools.connector(t.sort()));
              }
              if (kept.stages().find(asked.key()).isEmpty()) {
                kept.stages().insert(asked);
                kept.note(
                    event(
                        by,
                        "stage registered",
                        asked.key(),
                        asked.name()
                            + " ("
                            + asked.role().name().toLowerCase(java.util.Locale.ROOT)
                            + ")"),
                    tools.now());
              } else {
                if (!kept.stages().update(asked)) {
                  throw Problem.changed(
                      "CHANGED",
                      "Somebody else changed the stage " + asked.key() + " meanwhile.",
                      "Look again, then change it");
                }
                kept.note(event(by, "stage changed", asked.key(), asked.name()), tools.now());
              }
              return kept.stages().find(asked.key()).orElseThrow();
            });
  }

  private static Event event(Person by, String what, String stage, String text) {
    return new Event(by.login(), what, null, stage, null, null, null, null, text);
  }

  public List<Connection> connections(Person by, @Nullable String stage) {
    return tools
        .keeper()
        .read(
            kept ->
                kept.connections()
                    .list(new Kept.Filter(null, stage, null, null, Kept.Filter.MOST, 0)))
        .stream()
        .filter(c -> by.may(Right.LOOK, c.stage(), "*"))
        .sorted(java.util.Comparator.comparing(Connection::id))
        .toList();
  }

  /**
   * Adds or changes a connection. Changing where it leads clears its secret and its test.
   *
   * @param secret the new password, or null to leave it
   */
  public Connection saveConnection(Person by, Connection asked, @Nullable String secret) {
    Rights.require(by, Right.OPERATE, asked.stage(), "*");
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
              boolean elsewhere = old != null && !old.leadsTo().equals(asked.leadsTo());
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
                      elsewhere || secret != null || old == null ? null : old.test(),
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
                  event(
                      by,
                      old == null ? "connection registered" : "connection changed",
                      asked.stage(),
                      asked.id()
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

  /**
   * Makes a plain target fit for being switched; a step of its own because it costs a moment in
   * which nobody finds what is published.
   */
  public String makeReady(Person by, String stage, String name) {
    Rights.require(by, Right.OPERATE, stage, "*");
    Connection c =
        tools
            .keeper()
            .read(kept -> kept.connections().find(stage + "/" + name))
            .orElseThrow(() -> Problem.notFound("connection", stage + "/" + name));
    if (!(tools.connector(c.sort()) instanceof ItemsConnector items)) {
      throw Problem.invalid("SORT", c.id() + " is a database and needs nothing.", "/name");
    }
    String done = items.makeReady(new Targets(tools, allowed).access(stage, name));
    tools
        .keeper()
        .write(
            kept -> kept.note(event(by, "made ready", stage, c.id() + ": " + done), tools.now()));
    return done;
  }

  public List<Path> paths() {
    return tools.keeper().read(kept -> kept.paths().all());
  }

  public Path savePath(Person by, String key, String name, String source, List<String> legs) {
    Rights.require(by, Right.ADMINISTER, "*", "*");
    Path path = checked(() -> new Path(key, name, source, legs, 0), "/legs");
    return tools
        .keeper()
        .write(
            kept -> {
              List<String> all = new ArrayList<>(legs);
              all.add(source);
              for (String stage : all) {
                kept.stages().find(stage).orElseThrow(() -> Problem.notFound("stage", stage));
              }
              if (kept.paths().find(key).isPresent()) {
                throw Problem.invalid("TAKEN", "There is already a path \"" + key + "\".", "/key");
              }
              kept.paths().insert(path);
              kept.note(
                  Event.of(
                      by.login(),
                      "path laid",
                      key + ": " + source + " to " + String.join(", ", legs)),
                  tools.now());
              return path;
            });
  }

  public List<Application> applications(Person by) {
    return tools.keeper().read(kept -> kept.applications().all()).stream()
        .filter(a -> by.may(Right.LOOK, "*", a.key()))
        .sorted(java.util.Comparator.comparing(Application::key))
        .toList();
  }

  public Application application(Person by, String key) {
    return tools
        .keeper()
        .read(kept -> kept.applications().find(key))
        .filter(a -> by.may(Right.LOOK, "*", key))
        .orElseThrow(() -> Problem.notFound("application", key));
  }

  public Application newApplication(
      Person by, String key, String name, String owner, String schema, String path) {
    Rights.require(by, Right.ADMINISTER, "*", key);
    Application application =
        checked(
            () -> Application.registered(tools.newId(), key, name, owner, schema, path), "/key");
    return tools
        .keeper()
        .write(
            kept -> {
              kept.paths().find(path).orElseThrow(() -> Problem.notFound("path", path));
              if (kept.applications().find(key).isPresent()) {
                throw Problem.invalid(
                    "TAKEN", "There is already an application \"" + key + "\".", "/key");
              }
              kept.applications().insert(application);
              kept.note(
                  new Event(
                      by.login(),
                      "application registered",
                      key,
                      null,
                      null,
                      null,
                      null,
                      null,
                      name + ", owner " + owner),
                  tools.now());
              return application;
            });
  }

  /**
   * What may be changed of an application; null leaves a fact as it is.
   *
   * @param support who is called about it, by stage; the whole list
   * @param probes what is asked around a run; the whole list
   */
  public record Facts(
      @Nullable String name,
      @Nullable String owner,
      @Nullable String description,
      @Nullable Map<String, String> support,
      @Nullable List<String> privateColumns,
      @Nullable List<Application.Probe> probes) {}

  private static <T> T or(@Nullable T asked, T old) {
    return asked == null ? old : asked;
  }

  /** Changes what people call it, who owns and supports it, what is private and what is asked. */
  public Application changeApplication(Person by, String key, Facts asked) {
    Rights.require(by, Right.ADMINISTER, "*", key);
    return tools
        .keeper()
        .write(
            kept -> {
              Application old =
                  kept.applications()
                      .find(key)
                      .orElseThrow(() -> Problem.notFound("application", key));
              or(asked.support(), Map.<String, String>of())
                  .keySet()
                  .forEach(
                      stage ->
                          kept.stages()
                              .find(stage)
                              .orElseThrow(() -> Problem.notFound("stage", stage)));
              Application next =
                  checked(
                      () ->
                          new Application(
                              old.id(),
                              key,
                              or(asked.name(), old.name()),
                              or(asked.owner(), old.owner()),
                              or(asked.description(), old.description()),
                              or(asked.support(), old.support()),
                              old.schema(),
                              old.path(),
                              or(asked.privateColumns(), old.privateColumns()),
                              or(asked.probes(), old.probes()),
                              old.repository(),
                              old.revision()),
                      "/privateColumns");
              if (!kept.applications().update(next)) {
                throw Problem.changed(
                    "CHANGED", "Somebody else changed " + key + " meanwhile.", "Look again");
              }
              kept.note(
                  new Event(
                      by.login(),
                      "application changed",
                      key,
                      null,
                      null,
                      null,
                      null,
                      null,
                      next.name()
                          + ", owner "
                          + next.owner()
                          + (next.support().isEmpty() ? "" : ", support " + next.support())
                          + (next.privateColumns().isEmpty()
                              ? ""
                              : ", private: " + String.join(", ", next.privateColumns()))),
                  tools.now());
              return kept.applications().find(key).orElseThrow();
            });
  }

  /**
   * Names the repository that holds an application's documents, or none.
   *
   * @param secret of its account, null to leave it
   */
  public Application saveRepository(
      Person by, String key, @Nullable Repository repository, @Nullable String secret) {
    Rights.require(by, Right.ADMINISTER, "*", key);
    if (repository != null) {
      String refusal = new Targets(tools, allowed).refusal(repository);
      if (refusal != null) {
        throw Problem.invalid("DESTINATION", refusal, "/address");
      }
    }
    return tools
        .keeper()
        .write(
            kept -> {
              Application old =
                  kept.applications()
                      .find(key)
                      .orElseThrow(() -> Problem.notFound("application", key));
              Repository was = old.repository();
              boolean elsewhere =
                  was != null
                      && (repository == null || !was.address().equals(repository.address()));
              String id = "repository/" + key;
              if (secret != null || elsewhere) {
                kept.secrets().remove(id);
              }
              if (secret != null) {
                kept.secrets()
                    .insert(
                        new Kept.Secret(
                            id, tools.vault().encrypt(id, secret), tools.vault().keyId(), 0));
              }
              boolean follows =
                  repository != null && repository.follow() != Repository.Follow.NOTHING;
              if (elsewhere || !follows) {
                // following begins anew: what is there then is not taken
                kept.sources()
                    .find(key)
                    .filter(r -> r.tags() != null)
                    .ifPresent(r -> kept.sources().update(r.withTags(null)));
              }
              if (!kept.applications().update(old.at(repository))) {
                throw Problem.changed(
                    "CHANGED", "Somebody else changed " + key + " meanwhile.", "Look again");
              }
              kept.note(
                  new Event(
                      by.login(),
                      "repository named",
                      key,
                      null,
                      null,
                      null,
                      null,
                      null,
                      repository == null
                          ? "none"
                          : repository.address()
                              + ", branch "
                              + repository.branch()
                              + (follows
                                  ? ", new tags "
                                      + repository.tagPrefix()
                                      + "… become a "
                                      + (repository.follow() == Repository.Follow.SEAL
                                          ? "version"
                                          : "draft")
                                  : "")),
                  tools.now());
              return kept.applications().find(key).orElseThrow();
            });
  }

  /** Tests every connection of a site and remembers what was found. */
  public List<Connection> testSite(Person by, SiteKey site) {
    if (!by.may(Right.OPERATE, site.stage(), "*") && !by.may(Right.PREPARE, site.stage(), "*")) {
      Rights.require(by, Right.OPERATE, site.stage(), "*");
    }
    Stage stage = stage(by, site.stage());
    Stage.Site s =
        stage.site(site.site()).orElseThrow(() -> Problem.notFound("site", site.toString()));
    List<Connection> out = new ArrayList<>();
    for (Stage.Target t : s.targets()) {
      TargetIdentity expected =
          new TargetIdentity(
              tools.keeper().service(), site.stage(), site.site(), t.key(), tools.now());
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

  private Connection test(
      String stage, String name, Stage.Target target, Use use, @Nullable TargetIdentity expected) {
    Targets targets = new Targets(tools, allowed);
    List<Connection.Probe> probes;
    try {
      probes =
          tools
              .connector(target.sort())
              .test(targets.access(stage, name), use, target.schemas(), expected);
    } catch (TargetFailed e) {
      probes =
          List.of(
              new Connection.Probe(
                  "destination", false, String.valueOf(e.getMessage()), "Ask an administrator"));
    } catch (Problem e) {
      probes =
          List.of(
              new Connection.Probe(
                  "settings",
                  false,
                  String.valueOf(e.getMessage()),
                  e.next().isEmpty() ? "" : e.next().get(0)));
    }
    Connection.Test test =
        new Connection.Test(tools.now(), probes.stream().allMatch(Connection.Probe::good), probes);
    return tools
        .keeper()
        .write(
            kept -> {
              Connection c =
                  kept.connections()
                      .find(stage + "/" + name)
                      .orElseThrow(() -> Problem.notFound("connection", stage + "/" + name));
              kept.connections().update(c.withTest(test));
              return c.withTest(test);
            });
  }
}
