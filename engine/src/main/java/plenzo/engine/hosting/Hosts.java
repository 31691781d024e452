package plenzo.engine.hosting;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.item.ItemSeen;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.Changing;
import plenzo.core.target.Doors;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.TablesLooking;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Running work, maintenance, and what is off, unbound or only there. */
public final class Hosts {
  private final Tools tools;
  private final Targets targets;

  public Hosts(Tools tools, Targets targets) {
    this.tools = tools;
    this.targets = targets;
  }

  /** A component that needs somebody's decision. */
  public record Need(ComponentKey component, Why why, String text) {}

  /** Why it does. */
  public enum Why {
    OFF,
    UNBOUND,
    NOT_VISIBLE,
    ONLY_THERE;

    public String code() {
      return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
    }
  }

  private Targets.At host(SiteKey site) {
    return targets
        .find(site, Holder.HOST)
        .orElseThrow(
            () ->
                Problem.stopped(
                    "NO_HOST",
                    site + " has no application host.",
                    "Add one in the set-up of stages"));
  }

  /**
   * What goes on at a site's host, which applications share.
   *
   * @param running of the applications that the reader looks at there
   * @param others pieces of work that belong to others, or that nobody can place
   */
  public record HostWork(
      List<ItemsLooking.Work.Item> running, int others, long people, boolean maintenance) {}

  /** For whoever looks at an application there; people's names and work stay with their readers. */
  public HostWork work(Person by, SiteKey site) {
    Rights.require(by, Right.LOOK, site.stage(), Person.ANY);
    Optional<Targets.At> host = targets.find(site, Holder.HOST);
    if (host.isEmpty()) {
      return withoutHost(site);
    }
    ItemsLooking.Work work;
    try (SiteLook look = targets.look(List.of(host.get()))) {
      work = java.util.Objects.requireNonNull(look.items(Holder.HOST).work());
    }
    Map<String, String> applications = new HashMap<>();
    tools
        .keeper()
        .read(kept -> kept.applications().all())
        .forEach(a -> applications.put(a.schema(), a.key()));
    boolean all = by.may(Right.LOOK, site.stage(), Person.EVERY);
    List<ItemsLooking.Work.Item> seen =
        work.running().stream()
            .filter(
                i -> {
                  String application = applications.get(space(i.component()));
                  return all
                      || (application != null && by.may(Right.LOOK, site.stage(), application));
                })
            .toList();
    return new HostWork(
        seen, work.running().size() - seen.size(), work.people(), work.maintenance());
  }

  /** Of a site whose doors are those of its database and its files. */
  private HostWork withoutHost(SiteKey site) {
    List<Targets.At> doors = closing(site);
    long sessions = 0;
    for (Targets.At at : doors) {
      if (at.holder() == Holder.DATABASE) {
        try (SiteLook look = targets.look(List.of(at))) {
          sessions +=
              look.tables().sessions(at.target().doors().names()).stream()
                  .mapToLong(TablesLooking.Inside::sessions)
                  .sum();
        }
      }
    }
    boolean closed =
        tools.keeper().read(kept -> kept.sites().list(Kept.Filter.at(site))).stream()
            .anyMatch(r -> r.closedBy() != null);
    return new HostWork(List.of(), 0, sessions, closed);
  }

  /** The targets of a site that users can be kept out of, in the order in which that is done. */
  private List<Targets.At> closing(SiteKey site) {
    List<Targets.At> out =
        Doors.ORDER.stream()
            .flatMap(holder -> targets.find(site, holder).stream())
            .filter(targets::shuts)
            .toList();
    if (out.isEmpty()) {
      throw Problem.stopped(
          "NO_HOST",
          site + " has no application host, and nobody is kept out of its other targets.",
          "plenzo site change " + site + " … --keep-out ACCOUNT, or --closed-file NAME");
    }
    return out;
  }

  /** The name space of a component as the host names it: "fares" of "rule/fares.ceiling". */
  private static String space(String component) {
    String name = component.substring(component.indexOf('/') + 1);
    int end = name.indexOf('.');
    return end < 0 ? name : name.substring(0, end);
  }

  /** Lets only operators in, or everybody again. */
  public void maintenance(Person by, SiteKey site, boolean on, String reason) {
    Rights.require(by, Right.LOOK, site.stage(), Person.ANY); // the answer shows what runs there
    Rights.require(by, Right.OPERATE, site.stage(), Person.EVERY);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Maintenance needs a reason.", "/reason");
    }
    List<Targets.At> doors = new ArrayList<>(closing(site));
    if (!on) {
      Collections.reverse(doors);
    }
    for (Targets.At at : doors) {
      try (Changing session = targets.change(at)) {
        session.maintenance(on, 0, at.target().doors(), reason);
      } catch (RuntimeException e) {
        // it is said as it is: who is out so far stays so until "off" is asked
        note(
            by,
            on ? "not closed as a whole" : "not opened as a whole",
            null,
            site,
            at.shown() + ": " + e.getMessage());
        throw e;
      }
    }
    tools
        .keeper()
        .writeAgain(
            kept -> {
              for (SiteRecord r : kept.sites().list(Kept.Filter.at(site))) {
                kept.sites().replace(r.closedBy(on ? by.login() : null));
              }
              kept.note(
                  event(by, on ? "maintenance on" : "maintenance off", null, site, reason),
                  tools.now());
              return null;
            });
  }

  private static Event event(
      Person by,
      String what,
      @org.jspecify.annotations.Nullable String application,
      SiteKey site,
      String text) {
    return new Event(
        by.login(), what, application, site.stage(), site.site(), null, null, null, text);
  }

  /** What is there and does not work, or is there and in no version. */
  public List<Need> needs(Person by, String application, SiteKey site) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    Application a = tools.keeper().read(kept -> kept.application(application));
    Set<ComponentKey> known = known(application, site);
    List<Need> out = new ArrayList<>();
    try (SiteLook look = targets.look(site)) {
      for (Holder holder : List.of(Holder.HOST, Holder.DIRECTORY)) {
        look.findItems(holder)
            .ifPresent(items -> items.inventory(a.schema(), seen -> needs(seen, known, out)));
      }
    }
    return out;
  }

  private static void needs(ItemSeen seen, Set<ComponentKey> known, List<Need> out) {
    if (Boolean.FALSE.equals(seen.active())) {
      out.add(new Need(seen.key(), Why.OFF, "is there and switched off"));
    }
    if (!seen.unbound().isEmpty()) {
      out.add(
          new Need(
              seen.key(), Why.UNBOUND, "has no value for " + String.join(", ", seen.unbound())));
    }
    if (Boolean.FALSE.equals(seen.visible())) {
      out.add(new Need(seen.key(), Why.NOT_VISIBLE, "is there and nobody can reach it"));
    }
    if (!known.contains(seen.key())) {
      out.add(new Need(seen.key(), Why.ONLY_THERE, "is only there, in no version"));
    }
  }

  private Set<ComponentKey> known(String application, SiteKey site) {
    Set<ComponentKey> out = new TreeSet<>();
    tools
        .keeper()
        .read(
            kept -> {
              kept.sites()
                  .find(application + "@" + site)
                  .map(SiteRecord::present)
                  .flatMap(v -> kept.versions().find(application + "@" + v))
                  .ifPresent(v -> v.entries().forEach(e -> out.add(e.key())));
              return null;
            });
    return out;
  }

  /** Switches one rule, form or integration on or off; recorded, no version changes. */
  public void activate(
      Person by, String application, SiteKey site, ComponentKey key, boolean on, String reason) {
    Rights.require(by, Right.OPERATE, site.stage(), application);
    boolean owned = tools.keeper().read(kept -> kept.application(application)).owns(key);
    if (!owned) {
      throw Problem.invalid(
          "NOT_ITS_OWN", key + " does not belong to " + application + ".", "/component");
    }
    if (!key.kind().definition()) {
      throw Problem.invalid(
          "NO_STATE",
          key + " is neither on nor off; only rules, forms and integrations are.",
          "/component");
    }
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Switching on or off needs a reason.", "/reason");
    }
    // noted first: what was done at a host can never be missing in the history
    note(by, on ? "switched on" : "switched off", application, site, key + ": " + reason);
    try (ItemsChanging session = (ItemsChanging) targets.change(host(site))) {
      session.activation(key, on);
    } catch (RuntimeException e) {
      note(by, "not known to be switched", application, site, key + ": " + e.getMessage());
      throw e;
    }
  }

  private void note(
      Person by,
      String what,
      @org.jspecify.annotations.Nullable String application,
      SiteKey site,
      String text) {
    tools.keeper().write(kept -> kept.note(event(by, what, application, site, text), tools.now()));
  }
}
