package plenzo.engine.setup;

import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.WeakHashMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.keeping.Kept;
import plenzo.core.problem.Problem;
import plenzo.core.source.Repository;
import plenzo.core.stage.Connection;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Connector;
import plenzo.core.target.Looking;
import plenzo.core.target.Scratch;
import plenzo.core.target.Session;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesConnector;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.engine.Tools;

/** Opens sessions to the targets of a site with the right one of its connections. */
public final class Targets {
  private final Tools tools;
  private final Setup.Destinations allowed;
  private final Map<Session, SiteKey> open = Collections.synchronizedMap(new WeakHashMap<>());

  public Targets(Tools tools, Setup.Destinations allowed) {
    this.tools = tools;
    this.allowed = allowed;
  }

  /** A site's target with its stage. */
  public record At(Stage stage, SiteKey site, Stage.Target target, Kind.Holder holder) {
    public TargetIdentity identity(String service, java.time.Instant since) {
      return new TargetIdentity(service, site.stage(), site.site(), target.key(), since);
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

  /** Every target of a site, in the order in which a run switches them. */
  public List<At> all(SiteKey site) {
    Stage stage = stage(site);
    Stage.Site s =
        stage.site(site.site()).orElseThrow(() -> Problem.notFound("site", site.toString()));
    if (s.targets().isEmpty()) {
      throw Problem.stopped(
          "NO_TARGET", site + " has no target.", "Add its database in the set-up of stages");
    }
    return s.targets().stream()
        .map(t -> new At(stage, site, t, tools.connector(t.sort()).holder()))
        .sorted(Comparator.comparing(at -> SiteDelta.ORDER.indexOf(at.holder())))
        .toList();
  }

  public Optional<At> find(SiteKey site, Kind.Holder holder) {
    return all(site).stream().filter(at -> at.holder() == holder).findFirst();
  }

  /** Looks at every target of a site. */
  public SiteLook look(SiteKey site) {
    return look(all(site));
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
    String refusal =
        c.sort().equals("directory")
            ? allowed.refusal(c.path())
            : allowed.refusal(c.host(), c.port());
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
        secret(kept, c));
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
    return opened(at, connector(at).look(access(at.stage().key(), at.target().looking())));
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

  public Scratch scratch(At at) {
    return opened(at, tables(at).scratch(access(at.stage().key(), at.target().scratch())));
  }

  /** The connector of a site's database. */
  public TablesConnector tables(At at) {
    return (TablesConnector) connector(at);
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

  public String lookingAccount(At at) {
    return access(at.stage().key(), at.target().looking()).account();
  }

  /**
   * Why nothing may go to the target now: an untested or red connection; empty when all are green.
   */
  public String notGreen(SiteKey site) {
    return all(site).stream()
        .map(this::notGreen)
        .filter(red -> !red.isEmpty())
        .findFirst()
        .orElse("");
  }

  private String notGreen(At at) {
    return tools
        .keeper()
        .read(
            kept -> {
              for (String name :
                  List.of(at.target().looking(), at.target().changing(), at.target().scratch())) {
                if (name.isEmpty()) {
                  continue;
                }
                Connection c = kept.connections().find(at.stage().key() + "/" + name).orElse(null);
                if (c == null || c.test() == null) {
                  return "The connection " + at.stage().key() + "/" + name + " was not tested";
                }
                if (!c.test().good()) {
                  return "The test of the connection "
                      + c.id()
                      + " is red: "
                      + c.test().probes().stream()
                          .filter(p -> !p.good())
                          .map(Connection.Probe::found)
                          .findFirst()
                          .orElse("");
                }
              }
              return "";
            });
  }
}
