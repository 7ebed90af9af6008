#!/usr/bin/env bash
# Gets what the comparisons of Java need: a JDK with Maven, and the published sources of libraries, into
# oracle/java/sources. From the repository's root:
#
#   oracle/java/fetch.sh          what CI needs
#   oracle/java/fetch.sh all      more sources, for the whole comparison
set -euo pipefail
cd "$(dirname "$0")"
command -v mvn >/dev/null && command -v javac >/dev/null || {
  apt-get update -qq && apt-get install -y -qq --no-install-recommends openjdk-17-jdk-headless maven >/dev/null
}
mvn="mvn -B -q -ntp"

# each is group:artifact:version; a + stands before one whose tests are published too
ci="+commons-cli:commons-cli:1.6.0 +commons-codec:commons-codec:1.16.1 +org.apache.commons:commons-collections4:4.4
  +org.apache.commons:commons-text:1.11.0 +org.apache.commons:commons-lang3:3.14.0 +org.apache.commons:commons-csv:1.10.0
  com.google.guava:guava:33.1.0-jre com.fasterxml.jackson.core:jackson-databind:2.17.0
  org.springframework:spring-web:6.1.5"
more="org.springframework:spring-core:6.1.5 org.springframework:spring-context:6.1.5 org.springframework:spring-webmvc:6.1.5
  org.springframework:spring-beans:6.1.5 org.springframework.boot:spring-boot:3.2.4
  org.springframework.boot:spring-boot-autoconfigure:3.2.4 org.hibernate.orm:hibernate-core:6.4.4.Final
  org.apache.lucene:lucene-core:9.10.0 +org.apache.kafka:kafka-clients:3.7.0 +org.apache.hadoop:hadoop-common:3.3.6
  io.netty:netty-common:4.1.108.Final org.eclipse.jetty:jetty-server:11.0.20 org.apache.camel:camel-core-model:4.5.0
  io.vertx:vertx-core:4.5.7 org.eclipse.jdt:org.eclipse.jdt.core:3.37.0 org.jooq:jooq:3.19.6
  org.eclipse.jdt:ecj:3.37.0 io.netty:netty-handler:4.1.108.Final io.netty:netty-codec-http:4.1.108.Final
  org.apache.tomcat.embed:tomcat-embed-core:10.1.19 org.apache.logging.log4j:log4j-core:2.23.1"
wanted=$ci
[ "${1:-}" != all ] || wanted="$ci $more"

# what these need to be compiled and tested
jars="com.google.guava:failureaccess:1.0.2 com.google.code.findbugs:jsr305:3.0.2 org.checkerframework:checker-qual:3.42.0
  com.google.errorprone:error_prone_annotations:2.26.1 com.google.j2objc:j2objc-annotations:3.0.0
  com.fasterxml.jackson.core:jackson-core:2.17.0 com.fasterxml.jackson.core:jackson-annotations:2.17.0
  org.apache.commons:commons-lang3:3.14.0 commons-io:commons-io:2.15.1 commons-codec:commons-codec:1.16.1"

mkdir -p sources
items=""
add() { items="$items<artifactItem><groupId>$1</groupId><artifactId>$2</artifactId><version>$3</version>${4:+<classifier>$4</classifier>}</artifactItem>"; }
missing=""
for one in $wanted; do
  IFS=: read -r group artifact version <<<"${one#+}"
  [ -d "sources/$artifact" ] || { add "$group" "$artifact" "$version" sources; missing="$missing $artifact"; }
  case $one in +*) [ -d "sources/$artifact-tests" ] || add "$group" "$artifact" "$version" test-sources ;; esac
done
for one in $jars; do
  IFS=: read -r group artifact version <<<"$one"
  [ -f "sources/jars/$artifact-$version.jar" ] || add "$group" "$artifact" "$version" ""
done
if [ -n "$items" ]; then
  work=$(mktemp -d)
  cat >"$work/pom.xml" <<POM
<project xmlns="http://maven.apache.org/POM/4.0.0"><modelVersion>4.0.0</modelVersion>
<groupId>hilltop</groupId><artifactId>sources</artifactId><version>1</version><packaging>pom</packaging>
<build><plugins><plugin><artifactId>maven-dependency-plugin</artifactId><version>3.6.1</version>
<configuration><outputDirectory>$work/jars</outputDirectory><artifactItems>$items</artifactItems></configuration>
</plugin></plugins></build></project>
POM
  $mvn -f "$work/pom.xml" dependency:copy
  mkdir -p sources/jars
  for jar in "$work"/jars/*.jar; do
    case $jar in *sources.jar) ;; *) mv "$jar" sources/jars/ && continue ;; esac
    name=$(basename "$jar" .jar)
    folder=$(sed -E 's/-[0-9][^-]*(-jre|-Final)?-(sources|test-sources)$/\2/; s/sources$//; s/test-$/-tests/' <<<"$name")
    mkdir -p "sources/$folder" && (cd "sources/$folder" && jar -xf "$jar" && find . -name '*.class' -delete)
  done
  rm -rf "$work"
fi
ls sources | tr '\n' ' '
