package java

import (
	"strings"
)

// This file says which artifact a package is of. No build says so; an artifact has mostly packages that begin like its
// group, and one of several in a group has its own name in them. Others are known.

// fits says how well the name of a package or a type fits an artifact: 0 not at all. Names that begin with the whole
// group fit better than those that share its first two parts, and each word of the artifact that is in the name adds to
// that.
func fits(group, artifact, name string) int {
	for _, key := range []string{group + ":" + artifact, group} {
		if own, known := packagesOf[key]; known {
			best := 0
			for one := range strings.FieldsSeq(own) {
				if name == one || strings.HasPrefix(name, one+".") {
					best = max(best, 100+10*strings.Count(one, ".")+words(artifact, name))
				}
			}
			if best > 0 || key != group {
				return best
			}
		}
	}
	parts, begins := strings.Split(group, "."), strings.Split(name, ".")
	same := 0
	for same < len(parts) && same < len(begins) && parts[same] == begins[same] {
		same++
	}
	if same < 2 && same < len(parts) || same == 0 {
		return 0
	}
	return 10*same + words(artifact, name)
}

// words counts the words of an artifact's name that are parts of a name.
func words(artifact, name string) (count int) {
	for word := range strings.FieldsFuncSeq(artifact, func(c rune) bool { return c == '-' || c == '_' || c == '.' }) {
		if strings.Contains("."+name+".", "."+word+".") {
			count++
		}
	}
	return count
}

// ofJava says whether a name is of the language's own library.
func ofJava(name string) bool {
	for _, own := range []string{"java.", "jdk.", "sun.", "com.sun.", "org.w3c.dom.", "org.xml.sax.", "org.ietf.jgss.",
		"javax.accessibility.", "javax.crypto.", "javax.imageio.", "javax.lang.", "javax.management.", "javax.naming.",
		"javax.net.", "javax.print.",
		"javax.rmi.", "javax.script.", "javax.security.", "javax.sound.", "javax.sql.", "javax.swing.", "javax.tools.",
		"javax.xml.catalog.",
		"javax.xml.crypto.", "javax.xml.datatype.", "javax.xml.namespace.", "javax.xml.parsers.", "javax.xml.stream.",
		"javax.xml.transform.",
		"javax.xml.validation.", "javax.xml.xpath."} {
		if strings.HasPrefix(name, own) {
			return true
		}
	}
	return false
}

// packagesOf are the packages of artifacts, and of groups, whose names do not show them.
var packagesOf = map[string]string{
	"junit:junit":                             "org.junit junit.framework junit.extensions junit.runner org.hamcrest",
	"org.junit.jupiter":                       "org.junit.jupiter org.junit.platform org.opentest4j org.apiguardian",
	"org.junit.vintage":                       "org.junit.runner",
	"org.projectlombok:lombok":                "lombok",
	"com.google.guava:guava":                  "com.google.common com.google.thirdparty",
	"com.google.guava:guava-testlib":          "com.google.common.testing com.google.common.collect.testing com.google.common.util.concurrent.testing",
	"com.google.code.gson:gson":               "com.google.gson",
	"com.google.code.findbugs:jsr305":         "javax.annotation",
	"com.google.protobuf":                     "com.google.protobuf",
	"com.google.inject:guice":                 "com.google.inject",
	"commons-io:commons-io":                   "org.apache.commons.io",
	"commons-codec:commons-codec":             "org.apache.commons.codec",
	"commons-cli:commons-cli":                 "org.apache.commons.cli",
	"commons-logging:commons-logging":         "org.apache.commons.logging",
	"commons-lang:commons-lang":               "org.apache.commons.lang",
	"commons-collections:commons-collections": "org.apache.commons.collections",
	"commons-beanutils:commons-beanutils":     "org.apache.commons.beanutils",
	"commons-net:commons-net":                 "org.apache.commons.net",
	"commons-validator:commons-validator":     "org.apache.commons.validator",
	"commons-fileupload:commons-fileupload":   "org.apache.commons.fileupload",
	"org.apache.commons:commons-collections4": "org.apache.commons.collections4",
	"org.apache.httpcomponents":               "org.apache.http",
	"org.apache.httpcomponents.client5":       "org.apache.hc.client5 org.apache.hc.core5",
	"org.apache.logging.log4j":                "org.apache.logging.log4j org.apache.log4j",
	"log4j:log4j":                             "org.apache.log4j",
	"ch.qos.logback":                          "ch.qos.logback",
	"javax.servlet":                           "javax.servlet",
	"javax.inject:javax.inject":               "javax.inject",
	"javax.validation:validation-api":         "javax.validation",
	"javax.persistence":                       "javax.persistence",
	"javax.ws.rs":                             "javax.ws.rs",
	"javax.xml.bind:jaxb-api":                 "javax.xml.bind",
	"jakarta.servlet":                         "jakarta.servlet",
	"jakarta.platform":                        "jakarta",
	"jakarta.xml.bind":                        "jakarta.xml.bind",
	"org.hibernate.validator":                 "org.hibernate.validator jakarta.validation javax.validation",
	"org.hibernate.orm":                       "org.hibernate jakarta.persistence",
	"org.hibernate":                           "org.hibernate javax.persistence",
	"mysql:mysql-connector-java":              "com.mysql",
	"com.mysql:mysql-connector-j":             "com.mysql",
	"org.postgresql:postgresql":               "org.postgresql",
	"com.h2database:h2":                       "org.h2",
	"org.xerial:sqlite-jdbc":                  "org.sqlite",
	"com.zaxxer:HikariCP":                     "com.zaxxer.hikari",
	"redis.clients:jedis":                     "redis.clients.jedis",
	"joda-time:joda-time":                     "org.joda.time",
	"io.jsonwebtoken":                         "io.jsonwebtoken",
	"com.auth0:java-jwt":                      "com.auth0.jwt",
	"info.picocli:picocli":                    "picocli",
	"com.beust:jcommander":                    "com.beust.jcommander",
	"org.yaml:snakeyaml":                      "org.yaml.snakeyaml",
	"com.squareup.okhttp3":                    "okhttp3",
	"com.squareup.okio":                       "okio",
	"com.squareup.retrofit2":                  "retrofit2",
	"io.reactivex.rxjava3":                    "io.reactivex.rxjava3",
	"io.projectreactor":                       "reactor",
	"io.projectreactor:reactor-test":          "reactor.test",
	"io.micrometer":                           "io.micrometer",
	"org.mockito":                             "org.mockito",
	"org.jetbrains:annotations":               "org.jetbrains.annotations org.intellij.lang",
	"org.checkerframework:checker-qual":       "org.checkerframework",
	"io.cucumber":                             "io.cucumber",
	"org.seleniumhq.selenium":                 "org.openqa.selenium",
	"io.rest-assured":                         "io.restassured",
	"com.github.tomakehurst":                  "com.github.tomakehurst.wiremock",
	"org.wiremock":                            "com.github.tomakehurst.wiremock org.wiremock",
	"org.testcontainers":                      "org.testcontainers",
	"net.java.dev.jna":                        "com.sun.jna",
	"org.apache.poi":                          "org.apache.poi org.openxmlformats",
	"org.apache.pdfbox":                       "org.apache.pdfbox",
	"com.itextpdf":                            "com.itextpdf",
	"org.ow2.asm":                             "org.objectweb.asm",
	"net.bytebuddy":                           "net.bytebuddy",
	"cglib:cglib":                             "net.sf.cglib",
	"org.springdoc":                           "org.springdoc io.swagger.v3",
	"com.amazonaws":                           "com.amazonaws",
	"software.amazon.awssdk":                  "software.amazon.awssdk",
	"org.jsoup:jsoup":                         "org.jsoup",
	"io.vavr:vavr":                            "io.vavr",
	"org.eclipse.microprofile.config":         "org.eclipse.microprofile.config",

	"org.springframework.boot:spring-boot-starter-test": "org.springframework.boot.test org.springframework.test org.junit org.mockito org.assertj org.hamcrest org.skyscreamer org.xmlunit com.jayway.jsonpath",
	"org.springframework.boot:spring-boot-starter-web": "org.springframework.web org.springframework.http org.springframework.boot org.springframework.context " +
		"org.springframework.beans org.springframework.stereotype org.springframework.core org.springframework.util org.springframework.ui org.springframework.validation org.springframework.scheduling " +
		"com.fasterxml.jackson jakarta.servlet javax.servlet jakarta.annotation org.slf4j org.apache.tomcat org.apache.catalina",
	"org.springframework.boot:spring-boot-starter-webflux": "org.springframework.web org.springframework.http org.springframework.boot org.springframework.context " +
		"org.springframework.beans org.springframework.stereotype org.springframework.core org.springframework.util reactor io.netty com.fasterxml.jackson jakarta.annotation org.slf4j",
	"org.springframework.boot:spring-boot-starter-data-jpa": "org.springframework.data org.springframework.orm org.springframework.jdbc org.springframework.transaction " +
		"org.springframework.dao org.springframework.boot org.springframework.context org.springframework.beans org.springframework.stereotype org.springframework.core org.springframework.util " +
		"jakarta.persistence javax.persistence jakarta.transaction javax.transaction jakarta.annotation org.hibernate com.zaxxer.hikari org.slf4j",
	"org.springframework.boot:spring-boot-starter-jdbc": "org.springframework.jdbc org.springframework.transaction org.springframework.dao org.springframework.boot org.springframework.context " +
		"org.springframework.beans org.springframework.stereotype org.springframework.core org.springframework.util com.zaxxer.hikari org.slf4j jakarta.annotation",
	"org.springframework.boot:spring-boot-starter-security": "org.springframework.security org.springframework.boot org.springframework.context org.springframework.beans " +
		"org.springframework.stereotype org.springframework.core org.springframework.util org.slf4j jakarta.annotation",
	"org.springframework.boot:spring-boot-starter-validation": "jakarta.validation javax.validation org.hibernate.validator jakarta.el org.slf4j",
	"org.springframework.boot:spring-boot-starter-thymeleaf":  "org.thymeleaf org.springframework.boot org.springframework.context org.springframework.beans org.springframework.stereotype",
	"org.springframework.boot:spring-boot-starter": "org.springframework.boot org.springframework.context org.springframework.beans org.springframework.stereotype org.springframework.core " +
		"org.springframework.util org.springframework.scheduling jakarta.annotation javax.annotation org.slf4j ch.qos.logback",
	"org.springframework.boot:spring-boot-starter-data-redis":   "org.springframework.data.redis io.lettuce",
	"org.springframework.boot:spring-boot-starter-data-mongodb": "org.springframework.data.mongodb com.mongodb org.bson",
	"org.springframework.boot:spring-boot-starter-actuator":     "org.springframework.boot.actuate io.micrometer",
	"org.springframework.boot:spring-boot-starter-amqp":         "org.springframework.amqp com.rabbitmq",
	"org.springframework.boot:spring-boot-starter-mail":         "org.springframework.mail jakarta.mail javax.mail",
	"org.springframework.boot:spring-boot-starter-cache":        "org.springframework.cache",
	"org.springframework.boot:spring-boot-starter-websocket":    "org.springframework.web.socket org.springframework.messaging",
	"org.springframework.boot:spring-boot-starter-aop":          "org.aspectj org.springframework.aop",
	"org.springframework.boot:spring-boot-starter-quartz":       "org.quartz org.springframework.scheduling.quartz",
}
