package plenzo.engine.promoting;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.impact.CaseFacts;
import plenzo.core.impact.ImpactCase;
import plenzo.core.impact.ItemsCase;
import plenzo.core.inventory.NamedThings;
import plenzo.core.item.Definition;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.keeping.Kept;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.records.RowsPolicy;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.Exchanges;
import plenzo.core.target.Connector;
import plenzo.core.target.Extension;
import plenzo.core.target.Grants;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.Question;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesDelta;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.Tools;
import plenzo.engine.binding.Bindings;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Comparer;
import plenzo.engine.comparing.Incoming;
import plenzo.engine.setup.RecordsAge;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * Reads what the rules look at, once for a case: tables and their rows, files and definitions, and
 * what stands around it. Judges nothing.
 */
final class CaseReading {
  private final Tools tools;
  private final Targets targets;
  private final Comparer comparer;
  private final Bindings bindings;
  private final CaseWork work;

  CaseReading(Tools tools, Targets targets, Comparer comparer, Bindings bindings, CaseWork work) {
    this.tools = tools;
    this.targets = targets;
    this.comparer = comparer;
    this.bindings = bindings;
    this.work = work;
  }

  /**
   * @param found the site by the names of now
   * @param exchanges tells of names that change places whether they did there
   * @param look the same by those of afterwards
   */
  ImpactCase tables(
      Promotion p,
      Incoming incoming,
      Compared compared,
      TablesDelta delta,
      SiteLook found,
      Exchanges exchanges,
      SiteLook look) {
    String maker =
        targets.find(p.site(), Kind.Holder.DATABASE).map(targets::changingAccount).orElse("");
    return new ImpactCase(
        compared.components(),
        p.decisions(),
        delta,
        compared.tables(),
        compared.items().objects(),
        compared.uncarried(),
        (component, difference, limit, sink) -> {
          int n =
              compared.components().stream()
                  .map(Promotion.ComponentResult::key)
                  .toList()
                  .indexOf(component);
          try (var reader = comparer.files().read(compared.id(), n, difference, 0)) {
            int left = limit;
            for (var row = reader.next(); row != null && left-- > 0; row = reader.next()) {
              sink.accept(row);
            }
          }
        },
        new ImpactCase.Asking() {
          private final Map<Question, Question.Answer> known = new HashMap<>();

          /** Several rules ask the same of one look; what names rows is large, and is not kept. */
          @Override
          public Question.Answer answer(Question question) {
            return question.given().isEmpty() && question.without().isEmpty()
                ? known.computeIfAbsent(question, look.tables()::answer)
                : look.tables().answer(question);
          }

          @Override
          public Set<NamedThings.Name> absent(Set<NamedThings.Name> names) {
            return look.tables().absent(names);
          }

          @Override
          public boolean readsAllRows() {
            return look.tables().readsAllRows();
          }

          @Override
          public Set<String> lackedRoles(Set<String> roles) {
            return look.tables().lackedRoles(roles);
          }

          @Override
          public Set<String> shutOut(String schema, Set<String> roles) {
            return look.tables().shutOut(schema, roles);
          }

          @Override
          public Grants grants(String schema) {
            return look.tables().grants(schema);
          }

          @Override
          public String maker() {
            return maker;
          }

          @Override
          public Set<String> extensions() {
            return look.tables().extensions().stream()
                .map(Extension::name)
                .collect(Collectors.toSet());
          }
        },
        told(incoming, found, exchanges));
  }

  private static ImpactCase.Told told(Incoming incoming, SiteLook found, Exchanges exchanges) {
    List<ComponentKey> components = incoming.components();
    Map<ComponentKey, RowsPolicy> policies = new TreeMap<>();
    components.stream()
        .filter(k -> k.kind() == Kind.RECORDS)
        .forEach(k -> policies.put(k, incoming.policy(k)));
    return new ImpactCase.Told(
        incoming.renaming(),
        t -> found.tables().table(t).map(TableCapture::structure),
        exchanges,
        t -> {
          ComponentKey key = new ComponentKey(Kind.TABLE, t.componentName());
          return components.contains(key)
              ? Optional.ofNullable(incoming.structure(key))
              : Optional.empty();
        },
        policies);
  }

  ItemsCase items(Promotion p, Version version, Compared compared, SiteDelta delta, SiteLook look) {
    Compared.Items items = compared.items();
    Set<ComponentKey> after = new TreeSet<>(items.present().keySet());
    compared.tables().keySet().stream()
        .map(t -> new ComponentKey(Kind.TABLE, t.componentName()))
        .forEach(after::add);
    version.entries().forEach(e -> after.add(e.key()));
    work.versions().earlierInRelease(p).values().stream()
        .flatMap(v -> v.entries().stream())
        .forEach(e -> after.add(e.key()));
    List<Definition> arriving = new ArrayList<>();
    Set<ComponentKey> written = new TreeSet<>();
    for (ItemsDelta d : delta.itemDeltas()) {
      for (ItemsDelta.Change c : d.changes()) {
        written.add(c.key());
        if (c.incoming() == null) {
          after.remove(c.key());
        } else if (c.key().kind().definition()) {
          arriving.add(
              definition(c.key(), items.incoming().contents().open(c.key().kind(), c.incoming())));
        }
      }
    }
    for (plenzo.core.target.TablesDelta.TableDelta t : delta.tables().tables()) {
      if (t.result() == null) {
        after.remove(new ComponentKey(Kind.TABLE, t.table().componentName()));
        after.remove(new ComponentKey(Kind.RECORDS, t.table().componentName()));
      }
    }
    String space = work.paths().application(p.application()).schema();
    Map<Kind.Holder, ItemsLooking.Limits> limits = new EnumMap<>(Kind.Holder.class);
    items.holders().stream()
        .filter(h -> h != Kind.Holder.DATABASE)
        .forEach(h -> limits.put(h, look.items(h).limits(space)));
    boolean removes =
        delta.itemDeltas().stream()
            .flatMap(d -> d.changes().stream())
            .anyMatch(c -> c.incoming() == null);
    return new ItemsCase(
        p.application(),
        p.site().toString(),
        delta.items(),
        items.present(),
        // a backup or saved rows know a part alone: what the version has is not only there
        items.onlyThere().stream().filter(key -> version.entry(key).isEmpty()).toList(),
        after,
        version.entries().stream().map(e -> e.key().kind().holder()).collect(Collectors.toSet()),
        targets.all(p.site()).stream().map(Targets.At::holder).collect(Collectors.toSet()),
        limits,
        !delta.isEmpty()
            && targets
                .find(p.site(), Kind.Holder.HOST)
                .filter(at -> targets.can(at, Connector.Capability.MAINTENANCE))
                .isPresent(),
        look.findItems(Kind.Holder.HOST).map(ItemsLooking::work).orElse(null),
        arriving,
        removes ? staying(items, written, look) : List.of(),
        p.rollback()
            ? List.of()
            : bindings.states(version, p.site()).stream()
                .filter(
                    s ->
                        s.state().problem().isEmpty() && !s.state().missing()
                            || s.neededBy().stream()
                                .anyMatch(
                                    key ->
                                        written.contains(key)
                                            || s.state().forgotten()
                                            || s.given().waits() && !s.state().problem().isEmpty()
                                            || unboundThere(items, key, s.state().input().name())))
                .map(
                    s ->
                        s.neededBy().stream().anyMatch(written::contains)
                            ? s.state()
                            : s.state().unwritten())
                .toList());
  }

  /** Whether the host itself says that a component lacks a value. */
  private static boolean unboundThere(Compared.Items items, ComponentKey key, String input) {
    ItemSeen there = items.present().get(key);
    return there != null && there.unbound().contains(input);
  }

  private static List<Definition> staying(
      Compared.Items items, Set<ComponentKey> written, SiteLook look) {
    List<Definition> out = new ArrayList<>();
    for (ComponentKey key : items.present().keySet()) {
      if (key.kind().definition() && !written.contains(key)) {
        out.add(definition(key, look.items(Kind.Holder.HOST).read(key)));
      }
    }
    return out;
  }

  private static Definition definition(ComponentKey key, InputStream content) {
    try (content) {
      return Definition.of(
          key, Json.parse(new String(content.readAllBytes(), StandardCharsets.UTF_8)));
    } catch (IOException e) {
      throw new UncheckedIOException(key + " cannot be read", e);
    }
  }

  /** Reads what the rules about the case look at. */
  CaseFacts facts(
      Promotion p,
      List<Targets.At> ats,
      SiteLook look,
      SiteRecord record,
      Version version,
      @Nullable Version base,
      Compared compared,
      SiteDelta delta) {
    SemVer present = Objects.requireNonNull(record.present());
    List<ComponentKey> leftOut = List.of();
    if (base != null) {
      Version there =
          base.number().equals(present) ? base : work.versions().version(p.application(), present);
      leftOut =
          work.versions()
              .ancestry(p.application())
              .fixesLeftOut(
                  version,
                  work.contents()
                      .renamed(
                          there,
                          work.versions().renaming(p.application(), present, version.number())),
                  work.contents()
                      .renamed(
                          base,
                          work.versions()
                              .renaming(p.application(), base.number(), version.number())));
    }
    Map<Kind.Holder, SemVer> releases = new EnumMap<>(Kind.Holder.class);
    for (Kind.Holder h : Kind.Holder.values()) {
      if (version.needs().stream().anyMatch(n -> n.server() == h)) {
        look.release(h).ifPresent(r -> releases.put(h, r));
      }
    }
    return new CaseFacts(
        p,
        present,
        version,
        base,
        delta,
        ats.stream().map(at -> place(p, at, look)).toList(),
        leftOut,
        releases,
        version.needs().stream().anyMatch(n -> n.extension() != null)
                && look.findTables().isPresent()
            ? look.tables().extensions().stream()
                .collect(Collectors.toMap(Extension::name, Extension::version))
            : Map.of(),
        neighbours(p),
        work.versions().earlierInRelease(p),
        work.versions().inRelease(p),
        tools.keeper().read(kept -> kept.sites().list(Kept.Filter.application(p.application()))),
        otherOpen(p, version),
        Promotion.counts(compared.components(), compared.sameFiles()).kept());
  }

  private CaseFacts.Place place(Promotion p, Targets.At at, SiteLook look) {
    return new CaseFacts.Place(
        at.holder(),
        at.shown(),
        at.identity(tools.keeper().service(), tools.now()),
        look.identity(at.holder()),
        !at.target().scratch().isEmpty(),
        work.paths().leg(p).proof(),
        new RecordsAge(tools, targets).newerRun(at.id(), look.runs(at.holder(), 1)));
  }

  private Map<String, CaseFacts.Neighbour> neighbours(Promotion p) {
    Map<String, CaseFacts.Neighbour> out = new java.util.TreeMap<>();
    SiteKey site = p.site();
    for (SiteRecord other : tools.keeper().read(kept -> kept.sites().list(Kept.Filter.at(site)))) {
      SemVer there = other.present();
      if (there != null && !other.application().equals(p.application())) {
        out.put(
            other.application(),
            new CaseFacts.Neighbour(
                there, work.versions().head(other.application(), there).needs()));
      }
    }
    return out;
  }

  private List<CaseFacts.Open> otherOpen(Promotion p, Version version) {
    List<CaseFacts.Open> out = new ArrayList<>();
    if (!p.brings()) {
      return out;
    }
    for (Promotion o :
        tools
            .keeper()
            .read(
                kept ->
                    kept.promotions()
                        .list(
                            Kept.Filter.at(p.application(), p.site())
                                .in(PromotionState.underWay())))) {
      if (o.number() != p.number()) {
        out.add(
            new CaseFacts.Open(
                o,
                work.versions().version(o.application(), o.version()).entries().stream()
                    .filter(e -> version.entry(e.key()).isPresent())
                    .count()));
      }
    }
    return out;
  }
}
