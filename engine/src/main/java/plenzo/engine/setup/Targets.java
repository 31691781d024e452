package plenzo.engine.setup;

import java.net.URI;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.WeakHashMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.gate.GateCase;
import plenzo.core.keeping.Kept;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.core.source.Repository;
import plenzo.core.stage.Application;
import plenzo.core.stage.Connection;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.Changing;
import plenzo.core.target.Connector;
import plenzo.core.target.Extension;
import plenzo.core.target.ItemsConnector;
import plenzo.core.target.Looking;
import plenzo.core.target.Mail;
import plenzo.core.target.Probe;
import plenzo.core.target.Scratch;
import plenzo.core.target.Session;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.SpacesLooking;
import plenzo.core.target.TablesConnector;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetId;
import plenzo.core.target.TargetIdentity;
import plenzo.core.telling.Letter;
import plenzo.engine.Tools;

/** Opens sessions to the targets of a site with the right one of its connections. */
public final class Targets {
  private final Tools tools;
  private final Destinations allowed;
  private final Map<Session, SiteKey> open = Collections.synchronizedMap(new WeakHashMap<>());

  public Targets(Tools tools, Destinations allowed) {
    this.tools = tools;
    this.allowed = allowed;
  }

  /** A site's target with its stage. */
  public record At(Stage stage, SiteKey site, Stage.Target target, Kind.Holder holder) {
    public TargetId id() {
      return target.requireId();
    }

    public TargetIdentity identity(String service, java.time.Instant since) {
      return new TargetIdentity(service, site.stage(), site.site(), id().text(), since);
    }

    /** "production/north database". */
    public String shown() {
      return site + " " + target.key();
    }
  }

  public Stage stage(SiteKey site) {
    return tools
        .keeper()
        .read(kept -> kept.stages().find(site.stage()))
        .orElseThrow(() -> Problem.notFound("stage", site.stage()));
  }

  /**
   * Every target of a site, in the order in which a run switches them.
   *
   * @throws Problem when it has none
   */
  public List<At> all(SiteKey site) {
    List<At> out = registered(site);
    if (out.isEmpty()) {
      throw Problem.stopped(
          "NO_TARGET", site + " has no target.", "Add its database in the set-up of stages");
    }
    return out;
  }

  private List<At> registered(SiteKey site) {
    Stage stage = stage(site);
    Stage.Site s =
        stage.site(site.site()).orElseThrow(() -> Problem.notFound("site", site.toString()));
    return s.targets().stream()
        .map(t -> new At(stage, site, t, tools.connector(t.sort()).holder()))
        .sorted(Comparator.comparing(at -> SiteDelta.ORDER.indexOf(at.holder())))
        .toList();
  }

  public Optional<At> find(SiteKey site, Kind.Holder holder) {
    return all(site).stream().filter(at -> at.holder() == holder).findFirst();
  }

  /**
   * The text of a page that a question names.
   *
   * @throws TargetFailed when its address is not allowed, or does not answer
   */
  public String page(URI page) {
    return tools.pages().read(page.toString(), judged(page));
  }

  /**
   * Posts a document to an address and returns the answer's text.
   *
   * @throws TargetFailed when its address is not allowed, or does not answer in time
   */
  public String ask(URI page, String document, Duration within) {
    return tools.pages().post(page.toString(), judged(page), document, within);
  }

  /** Tells an address something; where it leads is judged each time. */
  public void tell(String address, String document, Duration within, Map<String, String> headers) {
    URI page = URI.create(address);
    tools.pages().tell(page.toString(), judged(page), document, within, headers);
  }

  /** Hands a letter over; where the mail server is, is judged each time. */
  public void mail(Letter letter) {
    Mail.Server server =
        tools
            .mail()
            .server()
            .orElseThrow(
                () ->
                    new TargetFailed(
                        "No mail server is set (plenzo.mail)", false, new IllegalStateException()));
    tools.mail().send(letter, judged(server.host(), server.port()));
  }

  private List<String> judged(URI page) {
    int port = page.getPort() >= 0 ? page.getPort() : page.getScheme().equals("https") ? 443 : 80;
    String host = page.getHost();
    if (host == null || page.getUserInfo() != null) {
      throw new TargetFailed(
          page + " names no host", /* notReachable= */ false, new IllegalArgumentException());
    }
    return judged(host, port);
  }

  private List<String> judged(String host, int port) {
    Destinations.Judged judged = allowed.judged(host, port);
    String refusal = judged.refusal();
    if (refusal != null) {
      throw new TargetFailed(refusal, /* notReachable= */ false, new IllegalStateException());
    }
    return judged.addresses();
  }

  /** Looks at every target of a site. */
  public SiteLook look(SiteKey site) {
    return look(all(site));
  }

  /** Whether a host tries definitions in places of their own; it is asked. */
  public boolean spaces(At host) {
    try (SiteLook look = look(List.of(host))) {
      return look.items(Kind.Holder.HOST).spaces();
    }
  }

  /** Looks at some targets of one site. */
  public SiteLook look(List<At> ats) {
    Map<Kind.Holder, Looking> open = new EnumMap<>(Kind.Holder.class);
    try {
      for (At at : ats) {
        open.put(at.holder(), look(at));
      }
    } catch (RuntimeException e) {
      open.values().forEach(Looking::close);
      throw e;
    }
    return new SiteLook(ats.stream().map(at -> at.site().toString()).findFirst().orElse(""), open);
  }

  /** Why a repository may not be read; null when it may. The list may have changed since. */
  public @Nullable String refusal(Repository repository) {
    java.net.URI uri = repository.local() ? null : java.net.URI.create(repository.address());
    return uri == null
        ? allowed.refusal(repository.address())
        : allowed.refusal(uri.getHost(), uri.getPort() < 0 ? 443 : uri.getPort());
  }

  Access access(String stage, String name) {
    String id = stage + "/" + name;
    return tools.keeper().read(kept -> access(kept, id));
  }

  private Access access(Kept kept, String id) {
    Connection c =
        kept.connections().find(id).orElseThrow(() -> Problem.notFound("connection", id));
    // the list and what the name leads to may have changed since the connection was registered
    Destinations.Judged judged =
        c.sort().equals("directory")
            ? new Destinations.Judged(allowed.refusal(c.path()), List.of())
            : allowed.judged(c.host(), c.port());
    String refusal = judged.refusal();
    if (refusal != null) {
      throw new TargetFailed(refusal, false, new IllegalStateException(refusal));
    }
    return new Access(
        c.host(),
        c.port(),
        c.database(),
        c.path(),
        c.account(),
        c.tls(),
        c.options(),
        secret(kept, c),
        judged.addresses());
  }

  private String secret(Kept kept, Connection c) {
    if (!c.needsSecret()) {
      return "";
    }
    Kept.Secret secret =
        kept.secrets()
            .find(c.id())
            .orElseThrow(
                () ->
                    Problem.stopped(
                        "NO_SECRET",
                        "The connection " + c.id() + " has no password or token.",
                        "Set it in the set-up of stages"));
    return tools.vault().decrypt(c.id(), secret.cipher());
  }

  public Connector connector(At at) {
    return tools.connector(at.target().sort());
  }

  public Looking look(At at) {
    return spaced(opened(at, connector(at).look(access(at.stage().key(), at.target().looking()))));
  }

  /** A database in which each name space is all the schemas of its application. */
  public Looking spaced(Looking look) {
    if (!(look instanceof TablesLooking tables)) {
      return look;
    }
    Map<String, List<String>> further = furtherSchemas();
    return further.isEmpty() ? look : new SpacesLooking(tables, further);
  }

  private Map<String, List<String>> furtherSchemas() {
    Map<String, List<String>> out = new LinkedHashMap<>();
    for (Application a : tools.keeper().read(kept -> kept.applications().all())) {
      if (!a.furtherSchemas().isEmpty()) {
        out.put(a.schema(), a.furtherSchemas());
      }
    }
    return out;
  }

  /** The schemas of a target with what else belongs to their applications. */
  public List<String> schemas(Stage.Target target) {
    Map<String, List<String>> further = furtherSchemas();
    return target.schemas().stream()
        .flatMap(s -> Stream.concat(Stream.of(s), further.getOrDefault(s, List.of()).stream()))
        .distinct()
        .toList();
  }

  public Changing change(At at) {
    if (at.target().changing().isEmpty()) {
      throw Problem.stopped(
          "NO_CHANGING_ACCOUNT",
          at.site() + " has no connection for changing it.",
          "Name one in the set-up of stages");
    }
    return opened(at, connector(at).change(access(at.stage().key(), at.target().changing())));
  }

  /** Extensions that the target has; none where it is no database. */
  public List<Extension> extensions(At at) {
    try (Looking look = look(at)) {
      return look instanceof TablesLooking tables ? tables.extensions() : List.of();
    }
  }

  public Scratch scratch(At at) {
    return opened(at, tables(at).scratch(access(at.stage().key(), at.target().scratch())));
  }

  /** A folder of its own beside a directory, for a rehearsal. */
  public Aside aside(At at, long rehearsal) {
    return ((ItemsConnector) connector(at))
        .aside(access(at.stage().key(), at.target().changing()), rehearsal);
  }

  /** Looks at a copy of a target, that is reached like it. */
  public Looking lookAt(At at, Access copy) {
    return spaced(opened(at, connector(at).look(copy)));
  }

  /** Changes a copy of a target. */
  public Changing changeAt(At at, Access copy) {
    return opened(at, connector(at).change(copy));
  }

  /** The connector of a site's database. */
  public TablesConnector tables(At at) {
    return (TablesConnector) connector(at);
  }

  /** Whether users are kept out of it while a version comes. */
  public boolean shuts(At at) {
    return at.target().doors().shut(connector(at).capabilities());
  }

  public boolean can(At at, Connector.Capability capability) {
    return connector(at).capabilities().contains(capability);
  }

  private <S extends Session> S opened(At at, S session) {
    open.put(session, at.site());
    return session;
  }

  /** Cuts every session to the site, for a target that no longer answers. */
  public void cut(SiteKey site) {
    Map<Session, SiteKey> all;
    synchronized (open) {
      all = new LinkedHashMap<>(open);
    }
    all.forEach(
        (session, of) -> {
          if (of.equals(site)) {
            session.cut();
          }
        });
  }

  /** Whose everything is that a run makes there; empty where nothing is changed there. */
  public String changingAccount(At at) {
    return at.target().changing().isEmpty()
        ? ""
        : access(at.stage().key(), at.target().changing()).account();
  }

  public String lookingAccount(At at) {
    return access(at.stage().key(), at.target().looking()).account();
  }

  /**
   * Connections of the site that were not tested, or whose test is red; empty when all are green. A
   * site that has no target any more is said, and refuses nothing: pages of other sites ask too.
   */
  public List<GateCase.NotGreen> notGreen(SiteKey site) {
    List<GateCase.NotGreen> out = new ArrayList<>();
    Stage there = tools.keeper().read(kept -> kept.stages().find(site.stage())).orElse(null);
    boolean empty =
        there == null
            || there.site(site.site()).map(Stage.Site::targets).orElse(List.of()).isEmpty();
    if (empty) {
      return List.of(GateCase.NotGreen.noTarget(site));
    }
    for (At at : all(site)) {
      for (String name :
          List.of(at.target().looking(), at.target().changing(), at.target().scratch())) {
        if (!name.isEmpty()) {
          notGreen(at.stage().key() + "/" + name).ifPresent(out::add);
        }
      }
    }
    return out;
  }

  private Optional<GateCase.NotGreen> notGreen(String id) {
    Connection c = tools.keeper().read(kept -> kept.connections().find(id)).orElse(null);
    if (c == null || c.test() == null) {
      return Optional.of(new GateCase.NotGreen(id, null));
    }
    return c.test().good()
        ? Optional.empty()
        : Optional.of(
            new GateCase.NotGreen(
                id,
                c.test().probes().stream()
                    .filter(p -> !p.good())
                    .map(Probe::found)
                    .findFirst()
                    .orElse("")));
  }

  /** What a run is planned on: whatever becomes of the set-up, it is settled by this. */
  public Run.Place place(At at) {
    Connection c =
        tools
            .keeper()
            .read(kept -> kept.connections().find(at.stage().key() + "/" + at.target().changing()))
            .orElse(null);
    return new Run.Place(
        at.id(),
        at.holder(),
        at.shown(),
        at.target().changing(),
        c == null ? 0 : c.revision(),
        c == null ? "" : c.leadsTo(),
        can(at, Connector.Capability.UNDO),
        c == null ? null : c.account());
  }

  /**
   * The target that a run was planned on, as it is reached today.
   *
   * @throws TargetFailed when the site has no such target any more, its connection leads elsewhere,
   *     or what is there says that it is another
   */
  public At settled(SiteKey site, Run.Place place) {
    At at =
        registered(site).stream()
            .filter(t -> t.id().equals(place.id()))
            .findFirst()
            .orElseThrow(
                () ->
                    failed(
                        place.shown()
                            + ", which the run was planned on, is no longer a target of "
                            + site
                            + " (its id is "
                            + place.id()
                            + "); register it again under that id"));
    if (!place.leadsTo().isEmpty() && !place(at).leadsTo().equals(place.leadsTo())) {
      throw failed(
          place.shown()
              + " was reached at "
              + place.leadsTo()
              + " when the run was planned, and its connection leads to "
              + place(at).leadsTo()
              + " now");
    }
    try (Looking looking = look(at)) {
      Optional<TargetIdentity> found = looking.identity();
      TargetIdentity expected = at.identity(tools.keeper().service(), tools.now());
      if (found.isEmpty() || !expected.isMarkedAs(found.get())) {
        throw failed(
            place.shown()
                + (found.isEmpty()
                    ? " has no marker"
                    : " says it is " + found.get().shown() + " " + found.get().target())
                + ": what the run did cannot be asked there");
      }
    }
    return at;
  }

  private static TargetFailed failed(String why) {
    return new TargetFailed(why, /* notReachable= */ false, new IllegalStateException(why));
  }
}
