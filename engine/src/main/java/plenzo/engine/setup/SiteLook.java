package plenzo.engine.setup;

import java.io.InputStream;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.ObjectName;
import plenzo.core.item.ItemSeen;
import plenzo.core.problem.Problem;
import plenzo.core.source.RefusedDocument;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Exchanges.Progress;
import plenzo.core.table.Renaming;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.LastChange;
import plenzo.core.target.Looking;
import plenzo.core.target.RenamedLooking;
import plenzo.core.target.RunSeen;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetIdentity;
import plenzo.core.target.WholesLooking;
import plenzo.core.version.SemVer;

/** Open looks at the targets of one site. One thread. */
public final class SiteLook implements AutoCloseable {
  private final String site;
  private final Map<Holder, Looking> open;
  private final Renaming renaming;

  /**
   * @param site for people to read
   * @param open closed together with this
   */
  public SiteLook(String site, Map<Holder, Looking> open) {
    this(site, open, Renaming.NONE);
  }

  private SiteLook(String site, Map<Holder, Looking> open, Renaming renaming) {
    this.site = site;
    this.open = Map.copyOf(open);
    this.renaming = renaming;
  }

  /**
   * The same site as if its columns had the names that they have after a run.
   *
   * @param wanted what versions tell; what of it there is to do is found here
   * @param exchanges tells of names that change places; asked only where some do
   */
  public SiteLook renamed(Renaming wanted, Supplier<Exchanges> exchanges) {
    if (wanted.isEmpty() || find(Holder.DATABASE).isEmpty()) {
      return this;
    }
    Renaming atHand =
        wanted.atHand(
            t -> tables().table(t).map(TableCapture::structure),
            wanted.exchanges() ? exchanges.get() : Exchanges.all(Progress.NOT_KNOWN));
    if (atHand.isEmpty()) {
      return this;
    }
    Map<Holder, Looking> next = new LinkedHashMap<>(open);
    next.put(Holder.DATABASE, new RenamedLooking(tables(), atHand));
    return new SiteLook(site, next, atHand);
  }

  /** What of its columns is seen under another name. */
  public Renaming renaming() {
    return renaming;
  }

  /** Whether the site has a target that holds such components. */
  public boolean holds(Kind kind) {
    return find(kind.holder()).isPresent();
  }

  private Optional<Looking> find(Holder holder) {
    return Optional.ofNullable(open.get(holder));
  }

  /**
   * @throws Problem when the site has no such target
   */
  private Looking require(Holder holder) {
    return find(holder)
        .orElseThrow(
            () ->
                Problem.stopped(
                    "NO_TARGET",
                    site + " has no " + holder.word() + ".",
                    "Add it in the set-up of stages"));
  }

  public TablesLooking tables() {
    return (TablesLooking) require(Holder.DATABASE);
  }

  /**
   * Each target of the site, in the order of the switches, as what holds components of one piece.
   */
  public void wholes(BiConsumer<Holder, WholesLooking> each) {
    for (Holder holder : SiteDelta.ORDER) {
      find(holder).ifPresent(l -> each.accept(holder, (WholesLooking) l));
    }
  }

  /** Canonical content of a component of one piece, which the caller closes. */
  public InputStream read(ComponentKey key) {
    return ((WholesLooking) require(key.kind().holder())).read(key);
  }

  /** Every component of one piece of an application. */
  public Map<ComponentKey, ItemSeen> items(String space) {
    Map<ComponentKey, ItemSeen> out = new LinkedHashMap<>();
    wholes((holder, all) -> all.inventory(space, s -> out.put(s.key(), s)));
    return out;
  }

  /** The same with what roles may do there, which is carried only where somebody asks for it. */
  public Map<ComponentKey, ItemSeen> itemsAndGrants(String space) {
    Map<ComponentKey, ItemSeen> out = items(space);
    out.putAll(grants(space));
    return out;
  }

  /** What roles may do there, alone. */
  public Map<ComponentKey, ItemSeen> grants(String space) {
    Map<ComponentKey, ItemSeen> out = new LinkedHashMap<>();
    findTables()
        .ifPresent(t -> t.granted(space).forEach(o -> out.put(o.key(), TablesLooking.seen(o))));
    return out;
  }

  public Optional<TablesLooking> findTables() {
    return find(Holder.DATABASE).map(TablesLooking.class::cast);
  }

  public ItemsLooking items(Holder holder) {
    return (ItemsLooking) require(holder);
  }

  public Optional<ItemsLooking> findItems(Holder holder) {
    return find(holder).map(ItemsLooking.class::cast);
  }

  /** Who the target says it is. */
  public Optional<TargetIdentity> identity(Holder holder) {
    return require(holder).identity();
  }

  /** Release of a target's own software; empty where there is no such target, or it is not told. */
  public Optional<SemVer> release(Holder holder) {
    return find(holder).flatMap(Looking::release);
  }

  /** Runs that the target remembers, newest first. */
  public List<RunSeen> runs(Holder holder, int limit) {
    return require(holder).runs(limit);
  }

  /** What lies where components lie and cannot be one, of all targets. */
  public List<RefusedDocument> refused() {
    return open.values().stream().flatMap(l -> l.refused().stream()).distinct().toList();
  }

  /**
   * What lies outside an application's name space, of all targets.
   *
   * @param others name spaces of other applications, whose things are no surprise
   */
  public List<RefusedDocument> passedOver(String scope, Set<String> others) {
    List<String> schemas = findTables().map(t -> t.schemas(scope)).orElse(List.of());
    return open.values().stream()
        .flatMap(l -> l.passedOver(scope).stream())
        .distinct()
        .filter(r -> schemas.stream().noneMatch(s -> standsIn(r.path(), s)))
        .filter(r -> others.stream().noneMatch(o -> belongs(r.path(), o)))
        .toList();
  }

  /** Whether it is the document of something in a schema of the database. */
  private static boolean standsIn(String path, String schema) {
    return path.matches("(.*/)?(tables|records|objects/[a-z]+)/[^/]*")
        && path.substring(path.lastIndexOf('/') + 1)
            .startsWith(ObjectName.of(schema, "x").componentName().replaceAll("x$", ""));
  }

  private static boolean belongs(String path, String space) {
    String last = path.replaceAll("/$", "");
    last = last.substring(last.lastIndexOf('/') + 1);
    return last.equals(space) || !path.endsWith("/") && last.startsWith(space + ".");
  }

  /** Who changed a component there last, and when, as far as its target tells. */
  public LastChange lastChange(ComponentKey key) {
    return find(key.kind().holder()).map(l -> l.lastChange(key)).orElse(LastChange.UNKNOWN);
  }

  /** Asks every target who it is: they all answer, or one throws. */
  public void identities() {
    open.values().forEach(Looking::identity);
  }

  @Override
  public void close() {
    open.values().forEach(Looking::close);
  }
}
